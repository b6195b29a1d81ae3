<!-- What the figure at hand should be, and who is told when it is not. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { api, unwrap } from '$lib/api/client';
	import Dialog from '$lib/ui/Dialog.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import type { Sentence } from './sentence';
	import { minors, type Figure } from './words';

	type Props = { sentence: Sentence; figure: Figure; currency: string };
	let { sentence, figure, currency }: Props = $props();
	let open = $state(false);
	let atLeast = $state(true);
	let goal = $state('');
	let early = $state('');
	let period = $state<'today' | 'week' | 'month' | 'quarter' | 'year' | 'last30' | 'last12'>('month');
	let people = $state<{ id: string; name: string }[]>([]);
	const act = new Act();
	/** What one types is in per cent, hours, days or whole money. */
	const unit = $derived(
		(
			{
				share: ['%', 0.01],
				open: ['hours', 3600],
				clock: ['days', 86_400],
				money: [currency, minors(currency)],
				stars: ['stars', 1],
				count: ['', 1]
			} as Record<Figure['unit'], [string, number]>
		)[figure.unit]
	);
	const typed = (text: string) => (text.trim() === '' ? undefined : Number(text.replace(',', '.')) * unit[1]);
	const wrong = $derived(Number.isNaN(typed(goal) ?? NaN) || Number.isNaN(typed(early) ?? 0));
	function begin() {
		atLeast = figure.good === 'high';
		goal = early = '';
		people = [];
		open = true;
	}
	async function set() {
		const made = await act.run(() =>
			unwrap(
				api.POST('/api/targets', {
					body: {
						figure: figure.key,
						period,
						only: sentence.only ?? [],
						atLeast,
						goal: typed(goal) ?? 0,
						early: typed(early),
						people: people.map((p) => p.id)
					}
				})
			)
		);
		if (!made) return;
		open = false;
		await goto('/measure/targets');
		void tell('The target is set.');
	}
</script>

<button class="btn quiet" onclick={begin} data-do="set-target">Set a target</button>
<Dialog bind:open title="A target for {figure.name}" name="set-target">
	<div class="fields">
		<p class="row">
			In
			<select class="select" bind:value={period} aria-label="In which period" data-field="target-period">
				<option value="today">each day</option>
				<option value="week">each week</option>
				<option value="month">each month</option>
				<option value="quarter">each quarter</option>
				<option value="year">each year</option>
				<option value="last30">the last thirty days</option>
				<option value="last12">the last twelve months and this one</option>
			</select>
			it should be
			<select class="select" bind:value={atLeast} aria-label="At least or at most" data-field="target-bound">
				<option value={true}>at least</option>
				<option value={false}>at most</option>
			</select>
			<input
				class="input"
				inputmode="decimal"
				bind:value={goal}
				aria-label="The goal"
				data-field="target-goal"
			/>
			{unit[0]}
		</p>
		<p class="row">
			Tell early at <input
				class="input"
				inputmode="decimal"
				bind:value={early}
				aria-label="The early level"
				data-field="target-early"
			/>
			{unit[0]}
			<span class="soft small">may be empty: of counts and sums the present pace tells it, too</span>
		</p>
		<label for="target-people">Tell also</label>
		<p>{people.map((p) => p.name).join(', ')}</p>
		{#key people.length}<PersonPicker
				control={{ id: 'target-people', 'data-field': 'target-people' }}
				onpick={(p) => {
					if (p && !people.some((x) => x.id === p.id)) people = [...people, { id: p.id, name: p.name }];
				}}
			/>{/key}
	</div>
	<Trouble problem={act.problem} />
	<button class="btn do" disabled={act.running || wrong} onclick={set} data-do="save-target">Set it</button>
</Dialog>

<style>
	.fields {
		display: grid;
		gap: 0.7rem;
		margin-bottom: 0.9rem;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem 0.6rem;
		align-items: center;
	}
	.row .select {
		width: auto;
	}
	.row .input {
		width: 7rem;
	}
</style>
