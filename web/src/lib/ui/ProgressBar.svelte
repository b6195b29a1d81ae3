<!-- The bar of a progress. -->
<script lang="ts">
	import { Progress } from '@skeletonlabs/skeleton-svelte';
	let { label, share }: { label: string; share?: number } = $props();
	const percent = $derived(share === undefined ? null : Math.round(share * 100));
</script>

<Progress value={percent} class="progress-row">
	<Progress.Label class="sr-only">{label}</Progress.Label>
	<Progress.Track class="progress-track"><Progress.Range class="progress-range" /></Progress.Track>
	{#if percent !== null}<Progress.ValueText class="mono small">{percent} %</Progress.ValueText>{/if}
</Progress>

<style>
	:global(.progress-row) {
		display: inline-flex;
		flex-direction: row !important;
		align-items: center;
		gap: 0.5rem;
		width: 12rem !important;
	}
	:global(.progress-row .mono) {
		white-space: nowrap;
	}
	:global(.progress-track) {
		height: 0.5rem;
		border-radius: 0;
		background: var(--line);
	}
	:global(.progress-range) {
		background: var(--sound);
		border-radius: 0;
	}
</style>
