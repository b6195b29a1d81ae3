<!-- One page of a board, with its numbers. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Along from './Along.svelte';
	import Bars from './Bars.svelte';
	import Grid from './Grid.svelte';
	import { count, counted, number, told, change, type Figure } from './words';

	type Props = {
		page: Schema['PageView'];
		figures: Figure[];
		currency: string;
		/** Where its records stand; on a wall nothing opens. */
		href?: string;
		height?: number;
	};
	let { page, figures, currency, href = '#', height = 220 }: Props = $props();
	const s = $derived(page.screen.sentence);
	const figure = $derived(figures.find((f) => f.key === s.figure)!);
	const open = () => href;
	const about = $derived(
		{
			stages: 'as it stands now',
			figures: `in ${page.screen.period.words}, changes against ${page.screen.before.words}`,
			other: `${figure.name} in ${page.screen.period.words}, ${counted[figure.date]}`
		}[page.show === 'stages' || page.show === 'figures' ? page.show : 'other']
	);
	const narrowed = $derived(
		page.screen.narrowed.map((n) => `${n.name} ${n.keys.map((k) => k.name).join(' or ')}`).join(', ')
	);
</script>

<p class="soft small">
	{about}{narrowed ? `; only ${narrowed}` : ''}
</p>
{#if page.show === 'figures'}
	<ul class="figures">
		{#each page.screen.row as r (r.figure)}
			{@const f = figures.find((x) => x.key === r.figure)!}
			{@const c = change(r.now, r.before, f, currency)}
			<li>
				<span class="soft">{f.name}</span><strong class="mono">{told(r.now, f, currency)}</strong>
				{#if c}<span class="small" class:good={c.good === true} class:bad={c.good === false}
						>{c.sign} {c.words}</span
					>{/if}
			</li>
		{/each}
	</ul>
{:else if page.show === 'along'}
	<Along series={page.screen.along} {figure} side={s.along} {currency} href={open} {height} />
{:else if page.show === 'side'}
	<Bars series={page.screen.side} {figure} side={s.side} {currency} href={open} />
{:else if page.show === 'grid'}
	<Grid series={page.screen.grid} {figure} sides={[s.side, s.second]} {currency} href={open} />
{:else if page.stages}
	{@const st = page.stages}
	{@const stages = (st.now.keys[0] ?? []).flatMap((key, i) =>
		st.now.cells[i]?.records
			? [{ key, now: st.now.cells[i].records, oldest: st.oldest.cells[i]?.number ?? 0 }]
			: []
	)}
	<table class="stages">
		<thead
			><tr
				><th scope="col">Where it stands</th><th scope="col">requests</th><th scope="col">late</th><th
					scope="col">the oldest since</th
				></tr
			></thead
		>
		<tbody>
			{#each stages as { key, now, oldest } (key.key)}
				<tr data-stage={key.key}>
					<th scope="row">{key.name}</th>
					<td class="mono big">{count(now)}</td>
					<td class="mono"
						>{count(
							st.overdue.cells[st.overdue.keys[0]?.findIndex((k) => k.key === key.key) ?? -1]?.records ?? 0
						)}</td
					>
					<td class="mono">{number(oldest, 'clock', '')}</td>
				</tr>
			{:else}<tr><td class="soft">Nothing is under way.</td></tr>{/each}
		</tbody>
	</table>
{/if}

<style>
	.figures {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(9rem, 1fr));
		gap: 0.8rem 1.2rem;
	}
	.figures li {
		display: grid;
		border-top: 2px solid var(--line);
		padding-top: 0.3rem;
	}
	.figures strong {
		font-size: 1.6em;
	}
	.good {
		color: var(--kelp-text);
	}
	.bad {
		color: var(--buoy-text);
	}
	.stages {
		border-collapse: collapse;
	}
	.stages :is(th, td) {
		text-align: left;
		font-weight: 400;
		padding: 0.3rem 2rem 0.3rem 0;
		border-bottom: 1px solid var(--line);
	}
	@media (max-width: 40rem) {
		.stages :is(th, td) {
			padding-right: 0.8rem;
		}
	}
	.stages .big {
		font-size: 1.3em;
		font-weight: 600;
	}
</style>
