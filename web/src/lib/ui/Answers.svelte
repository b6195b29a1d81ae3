<!-- Answers as they were sent. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { answerText } from '$lib/words';
	import Shown from './Shown.svelte';
	type Props = {
		answers: Schema['RequestAnswered'][];
		/** ID, so that files can be opened and private answers shown. */
		request?: string;
		/** Key of the task, or of the decision, that they are shown for. */
		task?: string;
		rung?: string;
	};
	let { answers, request, task, rung }: Props = $props();
	const read = (path: { request: string; question: string }) =>
		unwrap(
			api.POST('/api/requests/{request}/private/{question}/read', { params: { path }, body: { task, rung } })
		);
</script>

{#if answers.length === 0}
	<p class="soft">There are no answers to show here.</p>
{:else}
	<dl>
		{#each answers as answer (answer.key)}
			<div>
				<dt>{answer.label}</dt>
				<dd data-answer={answer.key}>
					{#if answer.private === 'asking' && request}
						<span class="soft small">Private.</span>
						<Shown name={answer.label} read={() => read({ request, question: answer.key })} />
					{:else if answer.private}<span class="soft small">Private: answered, and not shown here.</span>
					{:else if answer.files?.length && request}
						{#each answer.files as file (file.id)}<a
								href="/api/requests/{request}/files/{file.id}"
								download={file.name}>{file.name}</a
							>
						{/each}
					{:else if answer.table}
						<table>
							<thead
								><tr
									>{#each answer.table.headings as heading, i (i)}<th scope="col">{heading}</th>{/each}</tr
								></thead
							>
							<tbody>
								{#each answer.table.rows as row, n (n)}<tr
										>{#each row as cell, i (i)}<td>{cell}</td>{/each}</tr
									>{/each}
							</tbody>
						</table>
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
		align-items: baseline;
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
	dl {
		container-type: inline-size;
	}
	@container (max-width: 28rem) {
		div {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
	table {
		border-collapse: collapse;
		font-size: 0.9375rem;
	}
	th {
		text-align: left;
		font-weight: 600;
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
	th,
	td {
		padding: 0.1rem 1.2rem 0.1rem 0;
		vertical-align: top;
	}
	tbody tr {
		border-top: 1px solid var(--line);
	}
</style>
