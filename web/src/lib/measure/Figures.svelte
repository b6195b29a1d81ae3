<!-- Figures in a row: each with its change, and opened it is the one that all below is about. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { tip } from '$lib/ui/tip.svelte';
	import { address, type Sentence } from './sentence';
	import { change, count, number, signs, standings, told, type Figure } from './words';

	type Props = {
		row: Schema['RowView'][];
		figures: Figure[];
		sentence: Sentence;
		usual: Sentence;
		currency: string;
	};
	let { row, figures, sentence, usual, currency }: Props = $props();
	const of = (key: string) => figures.find((f) => f.key === key)!;
	const made = (r: Schema['RowView'], f: Figure) =>
		f.part
			? `${count(r.now.part)} of ${count(r.now.records)}: ${f.part}, of ${f.whole}. ${f.asks}`
			: `${count(r.now.records)} ${f.whole}. ${f.asks}`;
</script>

<ul class="figures" aria-label="Figures">
	{#each row as r (r.figure)}
		{@const f = of(r.figure)}
		{@const c = change(r.now, r.before, f, currency)}
		<li class:lead={r.figure === sentence.figure}>
			<a
				href={address({ ...sentence, figure: r.figure }, usual)}
				aria-current={r.figure === sentence.figure ? 'true' : undefined}
				data-sveltekit-noscroll
				data-figure={r.figure}
				data-records={r.now.records}
				{@attach tip(made(r, f))}
			>
				<span class="name">{f.name}</span>
				<strong class="mono" class:nothing={r.now.number === undefined}>{told(r.now, f, currency)}</strong>
				{#if c}
					<span class="small change" class:good={c.good === true} class:bad={c.good === false}
						><span aria-hidden="true">{c.sign}</span>
						{c.words}{#if c.good !== undefined}<span class="sr-only">, {c.good ? 'better' : 'worse'}</span
							>{/if}</span
					>
				{:else}<span class="small soft">nothing before</span>{/if}
				{#if r.aim}<span class="small aim {r.aim.stands}" data-aim={r.aim.stands}
						><span aria-hidden="true">{signs[r.aim.stands]}</span>
						{r.aim.atLeast ? 'at least' : 'at most'}
						{number(r.aim.goal, f.unit, currency)}<span class="sr-only">, {standings[r.aim.stands]}</span
						></span
					>{/if}
			</a>
		</li>
	{/each}
</ul>

<style>
	.figures {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(7.4rem, 1fr));
		border-block: 1px solid var(--line);
	}
	li {
		border-right: 1px solid var(--line);
	}
	li:last-child {
		border-right: 0;
	}
	a {
		display: grid;
		gap: 0.1rem;
		padding: 0.45rem 0.6rem 0.5rem;
		color: inherit;
		text-decoration: none;
		height: 100%;
		align-content: start;
		border-top: 3px solid transparent;
	}
	a:hover {
		background: var(--sound-wash);
	}
	.lead a {
		border-top-color: var(--sound);
		background: var(--panel);
	}
	.name {
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
	strong {
		font-size: 1.25rem;
		font-weight: 600;
	}
	strong.nothing {
		font-family: inherit;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		font-weight: 400;
		line-height: 1.6;
	}
	.aim.well {
		color: var(--kelp-text);
	}
	.aim.early,
	.aim.missed {
		color: var(--buoy-text);
	}
	.change.good {
		color: var(--kelp-text);
	}
	.change.bad {
		color: var(--buoy-text);
	}
</style>
