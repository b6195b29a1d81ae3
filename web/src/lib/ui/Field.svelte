<!-- A control below its label, with a hint and its problem. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	type Props = {
		label: string;
		hint?: string;
		/** What is wrong with what stands there. */
		problem?: string;
		/** Its control is made of several: it has labels of its own. */
		several?: boolean;
		children: Snippet;
	};
	let { label, hint, problem, several = false, children }: Props = $props();
</script>

<svelte:element this={several ? 'div' : 'label'} class="field">
	<span class="caption">{label}</span>
	{@render children()}
	{#if hint}<span class="hint">{hint}</span>{/if}
	{#if problem}<span class="small problem" role="status">{problem}</span>{/if}
</svelte:element>

<style>
	.field {
		display: grid;
		gap: 0.2rem;
		max-width: 46rem;
	}
</style>
