<!-- Measure: a sentence whose words are the controls; figures, time, what it is made up of, a grid, the records. -->
<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import Along from '$lib/measure/Along.svelte';
	import Bars from '$lib/measure/Bars.svelte';
	import Figures from '$lib/measure/Figures.svelte';
	import Grid from '$lib/measure/Grid.svelte';
	import PutOnBoard from '$lib/measure/PutOnBoard.svelte';
	import Records from '$lib/measure/Records.svelte';
	import TakeOut from '$lib/measure/TakeOut.svelte';
	import SetTarget from '$lib/measure/SetTarget.svelte';
	import SentenceLine from '$lib/measure/Sentence.svelte';
	import { address, into, type Sentence, type Side } from '$lib/measure/sentence';
	import { counted } from '$lib/measure/words';
	import { list, shortDate } from '$lib/words';

	let { data } = $props();
	const desk = $derived(data.desk);
	const show = (next: Sentence) => goto(address(next, desk.usual), { keepFocus: true, noScroll: true });
	// while all is being read it is asked again
	$effect(() => {
		if (data.trouble?.code !== 'preparing') return;
		const again = setTimeout(() => void invalidateAll(), 1500);
		return () => clearTimeout(again);
	});
	const seen = $derived([...desk.services, ...desk.teams.map((t) => `tasks of ${t}`)]);
</script>

<svelte:head><title>Measure · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<h1 class="sr-only">Measure</h1>
	{#if data.trouble}
		<p role="status" data-preparing={data.trouble.code}>{data.trouble.detail}</p>
		{#if data.trouble.code !== 'preparing'}<p><a href="/measure">Begin anew</a></p>{/if}
	{/if}
	{#if data.shown}
		{@const { screen, records } = data.shown}
		{@const s = screen.sentence}
		{@const figure = desk.figures.find((f) => f.key === s.figure)!}
		{@const sides = desk.sides.filter((x) => figure.sides.includes(x.key as Side))}
		{@const behind = (side: Side) => (key: string) => address(into(s, side, key), desk.usual)}
		<div class="top">
			<SentenceLine {desk} {screen} onchange={show} />
			<div>
				<SetTarget sentence={s} {figure} currency={desk.currency} /><PutOnBoard
					sentence={s}
					name={figure.name}
				/>
				<TakeOut sentence={s} />
			</div>
		</div>
		<p class="soft small said">
			{shortDate(screen.period.from)} to {shortDate(screen.period.until)}. Days begin at midnight in {desk.zone}.
			Changes are against {screen.before.words}.{#if !desk.whole}
				You see what is yours: {list.format(seen)}.{/if}
		</p>
		<Figures
			row={screen.row}
			figures={desk.figures}
			sentence={s}
			usual={desk.usual}
			currency={desk.currency}
		/>
		<section aria-labelledby="along-head">
			<h2 id="along-head">
				{figure.name}, by {desk.sides.find((x) => x.key === s.along)?.name}
				<span class="soft small date">{counted[figure.date]}</span>
			</h2>
			<Along
				series={screen.along}
				{figure}
				side={s.along}
				currency={desk.currency}
				href={behind(s.along)}
				target={screen.goal}
			/>
		</section>
		<div class="two">
			<section aria-labelledby="side-head">
				<h2 id="side-head">
					by <select
						class="select"
						value={s.side}
						onchange={(e) => show({ ...s, side: e.currentTarget.value as Side })}
						aria-label="What it is made up of, by"
						data-field="side"
						>{#each sides as x (x.key)}<option value={x.key}>{x.name}</option>{/each}</select
					>
				</h2>
				<Bars series={screen.side} {figure} side={s.side} currency={desk.currency} href={behind(s.side)} />
				<p class="soft small">Counted {counted[figure.date]}.</p>
			</section>
			<section aria-labelledby="grid-head">
				<h2 id="grid-head">
					and by <select
						class="select"
						value={s.second}
						onchange={(e) => show({ ...s, second: e.currentTarget.value as Side })}
						aria-label="The other side of the grid"
						data-field="second"
						>{#each sides as x (x.key)}<option value={x.key}>{x.name}</option>{/each}</select
					>
				</h2>
				{#if s.side === s.second}<p class="soft">Choose another side than that on the left.</p>{:else}<Grid
						series={screen.grid}
						{figure}
						sides={[s.side, s.second]}
						currency={desk.currency}
						href={(row, column) => address(into(into(s, s.side, row), s.second, column), desk.usual)}
					/>
					<p class="soft small">Counted {counted[figure.date]}.</p>{/if}
			</section>
		</div>
		<section aria-labelledby="records"><Records {records} sentence={s} {figure} /></section>
	{/if}
</main>

<style>
	.date {
		font-family: inherit;
		font-weight: 400;
	}
	.top {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.4rem 1rem;
	}
	.said {
		margin-top: -0.6rem;
	}
	section {
		min-width: 0;
	}
	.two {
		display: grid;
		grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
		gap: 1rem 2rem;
	}
	h2 .select {
		display: inline-block;
		width: auto;
		min-height: 1.8rem;
		padding-block: 0;
		font-weight: 600;
	}
	@media (max-width: 60rem), print {
		.two {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
