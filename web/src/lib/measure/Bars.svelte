<!-- What a figure is made up of, by one side: what weighs most stands first. Each line opens. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { count, fully, told, type Figure, type Value } from './words';

	type Props = {
		series: Schema['SeriesView'];
		figure: Figure;
		side: string;
		currency: string;
		href: (key: string) => string;
	};
	let { series, figure, side, currency, href }: Props = $props();
	const keys = $derived(series.keys[0] ?? []);
	const at = (i: number): Value => series.cells[i] ?? { records: 0, part: 0 };
	const full = $derived(
		figure.unit === 'share'
			? 1
			: figure.unit === 'stars'
				? 5
				: Math.max(1e-9, ...series.cells.map((v) => v.number ?? 0))
	);
	/** Where all of them together stand. */
	const all = $derived(series.total.number);
	const spread = $derived(
		['share', 'stars', 'clock', 'open'].includes(figure.unit) && !['hours', 'saved'].includes(figure.key)
	);
</script>

<table class="bars">
	<thead class="sr-only"
		><tr><th scope="col">{side}</th><th scope="col">{figure.name}</th><th scope="col">counted</th></tr></thead
	>
	<tbody>
		{#each keys as key, i (key.key)}
			{@const v = at(i)}
			<tr>
				<th scope="row"
					><a href={href(key.key)} data-sveltekit-noscroll data-bar={key.key} data-records={v.records}
						>{fully(side, key.key, key.name)}</a
					></th
				>
				<td class="length"
					><span class="bar" style:width="{(100 * (v.number ?? 0)) / full}%"
					></span>{#if spread && all !== undefined}<i class="all" style:left="{(100 * all) / full}%"
						></i>{/if}</td
				>
				<td class="mono value">{told(v, figure, currency)}</td>
				{#if figure.unit !== 'count'}<td class="mono soft small n"
						>{figure.part ? `${count(v.part)} of ` : ''}{count(v.records)}</td
					>{/if}
			</tr>
		{:else}
			<tr><td class="soft">There is nothing to count.</td></tr>
		{/each}
	</tbody>
</table>
{#if series.others > 0}<p class="soft small">and {count(series.others)} more, with less</p>{/if}
{#if spread && all !== undefined && keys.length > 1}<p class="soft small">
		The fine line is where all of them together stand.
	</p>{/if}

<style>
	.bars {
		width: 100%;
		border-collapse: collapse;
		table-layout: auto;
	}
	th {
		text-align: left;
		font-weight: 400;
		padding: 0.2rem 0.75rem 0.2rem 0;
		width: 30%;
		font-size: 0.875rem;
		line-height: 1.25;
	}
	th a {
		color: inherit;
	}
	td {
		padding: 0.2rem 0;
		white-space: nowrap;
	}
	tr:hover {
		background: var(--sound-wash);
	}
	.length {
		width: 40%;
		position: relative;
	}
	.bar {
		display: block;
		height: 0.8rem;
		background: var(--sound);
		min-width: 1px;
	}
	.all {
		position: absolute;
		top: 0;
		bottom: 0;
		width: 0;
		border-left: 1.5px solid var(--buoy);
	}
	.value,
	.n {
		text-align: right;
		padding-left: 0.75rem;
	}
	@media (max-width: 40rem) {
		.length {
			width: 25%;
		}
	}
</style>
