<!-- Answers as they were sent. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { answerText } from '$lib/words';
	/** request: its ID, so that files can be opened. */
	let { answers, request }: { answers: Schema['Answered'][]; request?: string } = $props();
</script>

{#if answers.length === 0}
	<p class="soft">There are no answers to show here.</p>
{:else}
	<dl>
		{#each answers as answer (answer.key)}
			<div>
				<dt>{answer.label}</dt>
				<dd data-answer={answer.key}>
					{#if answer.files?.length && request}
						{#each answer.files as file (file.id)}<a
								href="/api/requests/{request}/files/{file.id}"
								download={file.name}>{file.name}</a
							>
						{/each}
					{:else}{answerText(answer.text)}{/if}
					{#if answer.was}<span class="was small soft">now: {answerText(answer.was)}</span>{/if}
				</dd>
			</div>
		{/each}
	</dl>
{/if}

<style>
	div {
		display: grid;
		grid-template-columns: minmax(8rem, 13rem) minmax(0, 1fr);
		gap: 1rem;
		padding: 0.35rem 0;
		border-bottom: 1px solid var(--line);
	}
	dt {
		color: var(--ink-soft);
	}
	dd {
		white-space: pre-line;
		overflow-wrap: anywhere;
	}
	.was {
		display: block;
	}
	@media (max-width: 600px) {
		div {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
