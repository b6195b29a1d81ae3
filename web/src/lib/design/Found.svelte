<!-- What the examination found at a place: beside what it concerns. -->
<script lang="ts">
	import { getEditor } from './editor.svelte';
	let { place }: { place: string } = $props();
	const editor = getEditor();
	const found = $derived(editor.at(place));
</script>

{#each found as finding, i (i)}
	<p class={finding.severity} data-finding={finding.code}>
		<strong>{{ error: 'To mend', warning: 'To consider', hint: 'Hint' }[finding.severity]}:</strong>
		{finding.sentence}
		{finding.mend ?? ''}
	</p>
{/each}

<style>
	p {
		font-size: 0.8125rem;
		padding-left: 0.5rem;
		border-left: 3px solid var(--brass);
	}
	.hint {
		border-color: var(--fog);
		color: var(--ink-soft);
	}
	.error {
		border-color: var(--buoy);
		color: var(--buoy-text);
	}
</style>
