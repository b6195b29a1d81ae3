<!-- The dial: a heptagon whose seven edges fill as a request reaches its stages. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { edges } from './heptagon';
	import { exact, stageNames } from '$lib/words';

	type Props = {
		stages: Schema['Stage'][];
		yours?: boolean;
		closed?: boolean;
		size?: number;
		words?: boolean;
	};
	let { stages, yours = false, closed = false, size = 28, words = false }: Props = $props();

	const count = $derived(stages.filter((s) => s.at).length);
	const next = $derived(closed ? -1 : stages.findIndex((s) => !s.at));
	const last = $derived(stages.findLast((s) => s.at));
	const paths = edges(0.1);
	const drawn = $derived(
		stages.map((stage, k) => ({
			stage,
			d: paths[k],
			state: stage.at ? 'reached' : k === next ? 'next' : 'open'
		}))
	);
	const label = $derived(`${count} of 7 stages, last ${last ? stageNames[last.key].toLowerCase() : 'none'}`);
</script>

<svg viewBox="0 0 100 100" width={size} height={size} role="img" aria-label={label} class:yours>
	{#each drawn as edge (edge.stage.key)}
		<path d={edge.d} class={edge.state}>
			<title>{stageNames[edge.stage.key]}{edge.stage.at ? `: ${exact(edge.stage.at)}` : ''}</title>
		</path>
	{/each}
	{#if words}
		<text x="50" y="49" class="count">{count}</text>
		<text x="50" y="63" class="of">of 7</text>
	{/if}
</svg>

<style>
	svg {
		flex: none;
	}
	path {
		fill: none;
		stroke-width: 9;
		stroke-linecap: butt;
		stroke: var(--line);
	}
	.reached {
		stroke: var(--sound);
	}
	.next {
		stroke: var(--line-strong);
		stroke-dasharray: 5 4;
	}
	.yours .next {
		stroke: var(--buoy);
	}
	text {
		text-anchor: middle;
		fill: var(--ink);
	}
	.count {
		font: 600 26px var(--heading);
	}
	.of {
		font-size: 12px;
		fill: var(--ink-soft);
	}
</style>
