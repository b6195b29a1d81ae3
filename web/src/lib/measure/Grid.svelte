<!-- A figure by two sides at once. The deeper the ground, the more of what it is bad by; the number says it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { brief, fully, shortly, type Figure, type Value } from './words';

	type Props = {
		series: Schema['SeriesView'];
		figure: Figure;
		sides: [string, string];
		currency: string;
		href: (row: string, column: string) => string;
	};
	let { series, figure, sides, currency, href }: Props = $props();
	const rows = $derived(series.keys[0] ?? []);
	const columns = $derived(series.keys[1] ?? []);
	const at = (i: number, j: number): Value => series.cells[i * columns.length + j] ?? { records: 0, part: 0 };
	const numbers = $derived(series.cells.map((v) => v.number).filter((n) => n !== undefined));
	const least = $derived(figure.unit === 'share' ? 0 : Math.min(0, ...numbers));
	const most = $derived(figure.unit === 'share' ? 1 : Math.max(1e-9, ...numbers));
	const depth = (v: Value) => {
		if (v.number === undefined) return 0;
		const share = (v.number - least) / (most - least || 1);
		return Math.round(70 * (figure.good === 'high' ? 1 - share : share));
	};
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
<div class="scroll" tabindex="0" role="group" aria-label="One side by another">
	<table>
		<thead
			><tr
				><td></td>{#each columns as c (c.key)}<th scope="col">{shortly(sides[1], c.key, c.name)}</th
					>{/each}</tr
			></thead
		>
		<tbody>
			{#each rows as r, i (r.key)}
				<tr>
					<th scope="row">{fully(sides[0], r.key, r.name)}</th>
					{#each columns as c, j (c.key)}
						{@const v = at(i, j)}
						<td class="mono" style:--depth="{depth(v)}%"
							>{#if v.records > 0}<a
									href={href(r.key, c.key)}
									data-sveltekit-noscroll
									data-cell="{r.key} {c.key}"
									data-records={v.records}
									><span class="sr-only"
										>{fully(sides[0], r.key, r.name)}, {fully(sides[1], c.key, c.name)}:
									</span>{brief(v, figure, currency)}</a
								>{:else}<span class="nothing">·</span>{/if}</td
						>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
</div>
{#if series.others > 0}<p class="soft small">and {series.others} more lines, with less</p>{/if}
{#if series.cells.some((v) => v.few)}<p class="soft small">… tells of too few people to show.</p>{/if}

<style>
	.scroll {
		overflow-x: auto;
		position: relative; /* what is only heard stays in it */
	}
	table {
		border-collapse: collapse;
		font-size: 0.8125rem;
		min-width: 100%;
	}
	thead th {
		font-weight: 400;
		color: var(--ink-soft);
		padding: 0.15rem 0.3rem;
		max-width: 7rem;
		vertical-align: bottom;
	}
	tbody th {
		text-align: left;
		font-weight: 400;
		padding: 0.15rem 0.6rem 0.15rem 0;
		max-width: 15rem;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	td {
		border: 1px solid var(--line);
		text-align: right;
		background: color-mix(in srgb, var(--brass-wash) var(--depth, 0%), transparent);
		white-space: nowrap;
		padding: 0;
	}
	thead td {
		border: 0;
		background: none;
	}
	td a {
		display: block;
		padding: 0.2rem 0.4rem;
		color: inherit;
		text-decoration: none;
	}
	td a:hover {
		background: var(--sound-wash);
	}
	.nothing {
		padding: 0.2rem 0.4rem;
		color: var(--ink-soft);
	}
	@media print {
		.scroll {
			overflow: visible;
		}
	}
</style>
