<!-- What staff said as the work ended, and what comes next. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	let { closing }: { closing: Schema['ClosingView'] | undefined } = $props();
</script>

{#if closing?.word}
	<p class="word" data-closing>
		{#if closing.by}<strong>{closing.by}:</strong>{/if}
		{closing.word}
	</p>
{/if}
{#if closing?.next}
	<p data-next><strong>What comes next:</strong> {closing.next}</p>
{/if}

<style>
	.word {
		border-left: 4px solid var(--sound);
		padding: 0.2rem 0.75rem;
		margin-block: 0.4rem;
		white-space: pre-wrap;
	}
</style>
