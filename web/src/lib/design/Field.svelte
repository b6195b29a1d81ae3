<!-- A labelled control of the desk. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	let { label, hint, children }: { label: string; hint?: string; children: Snippet } = $props();
</script>

<label>
	<span>{label}</span>
	{@render children()}
	{#if hint}<span class="hint">{hint}</span>{/if}
</label>

<style>
	label {
		display: grid;
		gap: 0.2rem;
	}
	label > span:first-child {
		font-weight: 600;
		font-size: 0.875rem;
	}
</style>
