<!-- A figure along time: bars for how many, a line for a share or a length. Each stretch opens. -->
<script lang="ts">
	import { scaleBand, scaleLinear } from 'd3-scale';
	import { line as lineOf } from 'd3-shape';
	import type { Schema } from '$lib/api/client';
	import { tip } from '$lib/ui/tip.svelte';
	import { fully, shortly, tick, told, count, type Figure, type Value } from './words';

	type Props = {
		series: Schema['SeriesView'];
		figure: Figure;
		side: string;
		currency: string;
		/** Where a stretch leads. */
		href: (key: string) => string;
		target?: number;
		height?: number;
	};
	let { series, figure, side, currency, href, target, height = 190 }: Props = $props();

	let width = $state(640);
	const keys = $derived(series.keys[0] ?? []);
	const bars = $derived(
		figure.unit === 'count' || figure.unit === 'money' || figure.key === 'hours' || figure.key === 'saved'
	);
	const at = (i: number): Value => series.cells[i] ?? { records: 0, part: 0 };
	const edge = { top: 10, right: 6, bottom: 24, left: 52 };
	const x = $derived(
		scaleBand<number>()
			.domain(keys.map((_, i) => i))
			.range([edge.left, width - edge.right])
			.paddingInner(0.25)
			.paddingOuter(0.1)
	);
	const highest = $derived(
		Math.max(target ?? 0, ...series.cells.map((v) => Math.max(v.number ?? 0, bars ? 0 : (v.p80 ?? 0))))
	);
	/** Where the axis of a share begins, so that its changes are seen; of lengths and counts at nothing. */
	const lowest = $derived.by(() => {
		const shares = series.cells.map((v) => v.number).filter((n) => n !== undefined);
		if (figure.unit !== 'share' || shares.length === 0) return 0;
		return Math.max(0, Math.floor((Math.min(...shares, target ?? 1) - 0.1) * 5) / 5);
	});
	/** What the axis is divided by: lengths of time are read in days, hours or minutes. */
	const step = $derived(
		figure.unit !== 'open' && figure.unit !== 'clock'
			? 1
			: figure.unit === 'clock' && highest > 2 * 86_400
				? 86_400
				: highest > 2 * 3600
					? 3600
					: 60
	);
	const axis = $derived(
		scaleLinear()
			.domain([lowest, (figure.unit === 'share' ? 1 : figure.unit === 'stars' ? 5 : highest || 1) / step])
			.nice(4)
			.range([height - edge.bottom, edge.top])
	);
	const y = (value: number) => axis(value / step);
	const middle = (i: number) => (x(i) ?? 0) + x.bandwidth() / 2;
	const path = $derived(
		lineOf<number>()
			.defined((i) => at(i).number !== undefined)
			.x((i) => middle(i))
			.y((i) => y(at(i).number ?? 0))(keys.map((_, i) => i)) ?? ''
	);
	/** Of many stretches only some have room for their name. */
	const every = $derived(Math.max(1, Math.ceil(keys.length / Math.max(1, (width - edge.left) / 46))));
	const words = (i: number) => {
		const key = keys[i]!;
		const v = at(i);
		const part = figure.part ? ` (${count(v.part)} of ${count(v.records)})` : ` (${count(v.records)})`;
		const spread = v.p80 !== undefined ? `, four of five within ${tick(v.p80, figure.unit, currency)}` : '';
		return `${fully(side, key.key, key.name)}: ${told(v, figure, currency)}${bars ? '' : part}${spread}`;
	};
</script>

<div class="along" bind:clientWidth={width}>
	<svg {width} {height} role="group" aria-label="{figure.name}, told along time">
		{#each axis.ticks(4) as t (t)}
			<line class="rule" x1={edge.left} x2={width - edge.right} y1={axis(t)} y2={axis(t)} />
			<text class="tick" x={edge.left - 6} y={axis(t)} dy="0.32em" text-anchor="end"
				>{tick(t * step, figure.unit, currency)}</text
			>
		{/each}
		{#if target !== undefined}
			<line class="target" x1={edge.left} x2={width - edge.right} y1={y(target)} y2={y(target)} />
			<text class="tick" x={width - edge.right} y={y(target) - 4} text-anchor="end">target</text>
		{/if}
		{#if !bars}<path class="line" d={path} />{/if}
		{#each keys as key, i (key.key)}
			{@const v = at(i)}
			<a
				href={href(key.key)}
				aria-label={words(i)}
				data-sveltekit-noscroll
				data-along={key.key}
				data-records={v.records}
				{@attach (node) => tip(words(i))(node as unknown as HTMLElement)}
			>
				<rect
					class="hit"
					x={x(i)}
					y={edge.top}
					width={x.bandwidth()}
					height={height - edge.top - edge.bottom}
				/>
				{#if bars}
					<rect
						class="bar"
						x={x(i)}
						y={y(v.number ?? 0)}
						width={x.bandwidth()}
						height={Math.max(0, y(0) - y(v.number ?? 0))}
					/>
				{:else if v.number !== undefined}
					{#if v.p80 !== undefined}<line
							class="spread"
							x1={middle(i)}
							x2={middle(i)}
							y1={y(v.number)}
							y2={y(v.p80)}
						/>{/if}
					<circle class="point" cx={middle(i)} cy={y(v.number)} r={keys.length > 60 ? 2 : 4} />
				{/if}
			</a>
			{#if i % every === 0}
				<text class="tick" x={middle(i)} y={height - 8} text-anchor="middle"
					>{shortly(side, key.key, key.name)}</text
				>
			{/if}
		{/each}
	</svg>
</div>
<details class="as-table small">
	<summary>As a table</summary>
	<table>
		<thead
			><tr
				><th scope="col">When</th><th scope="col">{figure.name}</th>{#if figure.part}<th scope="col"
						>of them</th
					>{/if}<th scope="col">counted</th>{#if figure.unit === 'open' || figure.unit === 'clock'}<th
						scope="col">mean</th
					><th scope="col">80 %</th><th scope="col">95 %</th>{/if}</tr
			></thead
		>
		<tbody>
			{#each keys as key, i (key.key)}
				{@const v = at(i)}
				<tr>
					<th scope="row"
						><a href={href(key.key)} data-sveltekit-noscroll>{fully(side, key.key, key.name)}</a></th
					>
					<td class="mono">{told(v, figure, currency)}</td>
					{#if figure.part}<td class="mono">{count(v.part)}</td>{/if}
					<td class="mono">{count(v.records)}</td>
					{#if figure.unit === 'open' || figure.unit === 'clock'}{#each [v.mean, v.p80, v.p95] as n, k (k)}<td
								class="mono">{n === undefined ? '' : tick(n, figure.unit, currency)}</td
							>{/each}{/if}
				</tr>
			{/each}
		</tbody>
	</table>
</details>

<style>
	.along {
		width: 100%;
		overflow: hidden;
	}
	svg {
		display: block;
	}
	.rule {
		stroke: var(--line);
	}
	.tick {
		font-size: 0.6875rem;
		fill: var(--ink-soft);
		font-family: var(--mono);
	}
	.line {
		fill: none;
		stroke: var(--sound);
		stroke-width: 2;
	}
	.point {
		fill: var(--sound);
	}
	.spread {
		stroke: var(--sound);
		stroke-width: 1;
		stroke-dasharray: 2 2;
	}
	.bar {
		fill: var(--sound);
	}
	.hit {
		fill: transparent;
	}
	a:hover .hit,
	a:focus-visible .hit {
		fill: var(--sound-wash);
	}
	a:hover .bar {
		fill: var(--ink);
	}
	a:focus-visible {
		outline: none;
	}
	a:focus-visible .hit {
		stroke: var(--buoy);
		stroke-width: 2;
	}
	.target {
		stroke: var(--brass);
		stroke-width: 1.5;
		stroke-dasharray: 6 3;
	}
	.as-table table {
		margin-top: 0.4rem;
		border-collapse: collapse;
	}
	.as-table :is(th, td) {
		padding: 0.15rem 0.8rem 0.15rem 0;
		text-align: left;
		border-bottom: 1px solid var(--line);
		font-weight: 400;
	}
	.as-table td {
		text-align: right;
	}
</style>
