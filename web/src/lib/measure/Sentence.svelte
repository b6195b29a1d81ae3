<!-- The sentence of the desk: its words are what one chooses by. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Dialog from '$lib/ui/Dialog.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Narrow from './Narrow.svelte';
	import { address, along, narrowed, type Sentence, type Side } from './sentence';
	import { fully, type Figure } from './words';

	type Props = {
		desk: Schema['MeasureDesk'];
		screen: Schema['ScreenBody'];
		onchange: (s: Sentence) => void;
	};
	let { desk, screen, onchange }: Props = $props();
	const s = $derived(screen.sentence);
	const figure = $derived(desk.figures.find((f) => f.key === s.figure)!);
	const groups = $derived(Map.groupBy(desk.figures, (f) => f.subject));
	const subjects: Record<Figure['subject'], string> = {
		requests: 'Requests',
		standing: 'What is under way',
		ratings: 'What askers think',
		tasks: 'Tasks',
		decisions: 'Decisions',
		searches: 'Wishes',
		forms: 'Forms'
	};
	const sides = $derived(desk.sides.filter((x) => figure.sides.includes(x.key as Side)));
	const named = $derived(desk.periods.some((p) => p.key === s.period));
	let own = $state(false);
	let from = $state('');
	let until = $state('');
	let narrow = $state(false);
	let first = $state<Side>('service');
	function period(key: string) {
		if (key !== 'own') return onchange({ ...s, period: key });
		from = screen.period.from;
		until = screen.period.until;
		own = true;
	}
	function count(side: Side) {
		first = side;
		narrow = true;
	}
	const other = ['service', 'area', 'offering', 'team'];
</script>

<div class="sentence" role="group" aria-label="What is looked at">
	<select
		class="select lead"
		value={s.figure}
		onchange={(e) => onchange({ ...s, figure: e.currentTarget.value })}
		aria-label="The figure"
		data-field="figure"
	>
		{#each groups as [subject, figures] (subject)}
			<optgroup label={subjects[subject]}>
				{#each figures as f (f.key)}<option value={f.key}>{f.name}</option>{/each}
			</optgroup>
		{/each}
	</select>
	<span>in</span>
	<select
		class="select"
		value={named ? s.period : 'this'}
		onchange={(e) => period(e.currentTarget.value)}
		aria-label="The time"
		data-field="period"
	>
		{#if !named}<option value="this">{screen.period.words}</option>{/if}
		{#each desk.periods as p (p.key)}<option value={p.key}>{p.name}</option>{/each}
		<option value="own">from a day to a day…</option>
	</select>
	<span>, of</span>
	{#each screen.narrowed as n (n.side)}
		<span class="chip" data-narrowed={n.side}
			><button class="word" onclick={() => count(n.side)} aria-label="{n.name}: choose what counts"
				><span class="soft small">{n.name}</span>
				{n.keys.map((k) => fully(n.side, k.key, k.name)).join(' or ')}</button
			><a
				class="off"
				href={address(narrowed(s, n.side, []), desk.usual)}
				aria-label="Count every {n.name}"
				data-sveltekit-noscroll>✕</a
			></span
		>
	{/each}
	{#if !screen.narrowed.length}<span class="paper">everything</span>{/if}
	<button
		class="btn quiet"
		onclick={() => count((sides.find((x) => other.includes(x.key))?.key ?? 'department') as Side)}
		data-do="of">{screen.narrowed.length ? 'and only…' : 'everything'}</button
	>
	<span>, by</span>
	<select
		class="select"
		value={s.along}
		onchange={(e) => onchange({ ...s, along: e.currentTarget.value as Side })}
		aria-label="Told along"
		data-field="along"
	>
		{#each sides.filter((x) => along.includes(x.key)) as x (x.key)}<option value={x.key}>{x.name}</option
			>{/each}
	</select>
</div>
<Narrow bind:open={narrow} {sides} sentence={s} {first} {onchange} />
<Dialog bind:open={own} title="From a day to a day" name="own-period">
	<p class="soft">Both days belong to it. Days begin at midnight in {desk.zone}.</p>
	<div class="days">
		<DateField
			value={from}
			label="From"
			control={{ 'data-field': 'own-from' }}
			onday={(d) => (from = d ?? '')}
		/>
		<span>to</span>
		<DateField
			value={until}
			label="To"
			control={{ 'data-field': 'own-until' }}
			onday={(d) => (until = d ?? '')}
		/>
	</div>
	<button
		class="btn do"
		disabled={!from || !until || until < from}
		onclick={() => {
			own = false;
			onchange({ ...s, period: from === until ? from : `${from}/${until}` });
		}}
		data-do="own-period">Look at it</button
	>
</Dialog>

<style>
	.sentence {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.3rem 0.4rem;
		font-size: 1.0625rem;
	}
	.sentence .select {
		width: auto;
		max-width: 100%;
		min-height: 2rem;
		padding-block: 0.1rem;
		font-weight: 600;
	}
	.sentence .lead {
		font-family: var(--heading);
		font-size: 1.25rem;
	}
	.chip {
		display: inline-flex;
		align-items: center;
		background: var(--sound-wash);
		max-width: 100%;
	}
	.word {
		padding: 0.2rem 0.2rem 0.2rem 0.5rem;
		text-align: left;
		font-weight: 600;
	}
	.off {
		padding: 0.2rem 0.5rem;
		text-decoration: none;
	}
	.days {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.8rem;
		margin-block: 0.6rem 1rem;
	}
	.paper {
		display: none;
	}
	@media print {
		.paper,
		.word {
			display: inline !important;
		}
		.off {
			display: none;
		}
	}
</style>
