<!-- When somebody is away, and who decides for them. -->
<script lang="ts">
	import DateField from '$lib/ui/DateField.svelte';
	import { goto } from '$app/navigation';
	import { api, unwrap } from '$lib/api/client';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	import { instantOf } from '$lib/zone';

	let { data } = $props();
	const act = new Act();
	const me = $derived(data.session.person?.id ?? '');
	const whose = $derived(data.absences.person);
	const own = $derived(whose.id === me);
	let from = $state('');
	let until = $state('');
	let standIn = $state('');
	let again = $state(0);

	/** The first instant of a date here; of the day after when it is the last one. */
	const instant = (date: string, after = 0) => {
		const [year = 0, month = 0, day = 0] = date.split('-').map(Number);
		return instantOf(
			`${new Date(Date.UTC(year, month - 1, day + after)).toISOString().slice(0, 10)}T00:00`
		).toISOString();
	};
	async function set(e: SubmitEvent) {
		e.preventDefault();
		if (!from || !until) return;
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/absences', {
					body: { person: whose.id, from: instant(from), until: instant(until, 1), standIn }
				})
			)
		);
		if (!done) return;
		from = until = standIn = '';
		again++;
	}
	const end = (absence: string) =>
		act.run(() => unwrap(api.DELETE('/api/absences/{absence}', { params: { path: { absence } } })));
</script>

<svelte:head><title>When you are away · Heptad</title></svelte:head>
<h1>{own ? 'When you are away' : `When ${whose.name} is away`}</h1>
<p class="soft">
	Decisions that come meanwhile go to who stands in. It is written down whose decision it was, and who took
	it.
</p>
{#if data.absences.anybody}
	<div class="whose small">
		<span id="whose">Whose absence</span>
		{#key whose.id}
			<PersonPicker
				name={own ? '' : whose.name}
				control={{ id: 'whose-person', 'aria-labelledby': 'whose', 'data-field': 'whose' }}
				onpick={(p) => p && void goto(`/decide/absence?person=${p.id}`)}
			/>
		{/key}
		{#if !own}<a href="/decide/absence">My own</a>{/if}
	</div>
{:else if data.absences.reports.length}
	<label class="whose small"
		>Whose absence <select
			class="select"
			value={whose.id}
			onchange={(e) => void goto(`/decide/absence?person=${e.currentTarget.value}`)}
			data-field="whose"
		>
			<option value={me}>My own</option>
			{#each data.absences.reports as report (report.id)}<option value={report.id}>{report.name}</option
				>{/each}
		</select></label
	>
{/if}

<ul>
	{#each data.absences.entries as absence (absence.id)}
		<li data-absence>
			<span
				><When time={absence.from} absolute /> to <When time={absence.until} absolute />:
				{#if absence.standIn}<strong>{absence.standIn}</strong> decides{:else}nobody stands in{/if}
				{#if !own || absence.setBy !== data.session.person?.name}<span class="soft small"
						>set by {absence.setBy}</span
					>{/if}</span
			>
			<button class="btn quiet" onclick={() => end(absence.id)} disabled={act.running}
				>{new Date(absence.from) > new Date() ? 'Take out' : 'End it now'}</button
			>
		</li>
	{:else}
		<li class="soft">No absence is set.</li>
	{/each}
</ul>

<form onsubmit={set}>
	<h2>Another absence</h2>
	<div class="days">
		<div>
			<span>First day</span>
			<DateField
				value={from}
				label="First day"
				control={{ 'data-field': 'from' }}
				onday={(day) => (from = day ?? '')}
			/>
		</div>
		<div>
			<span>Last day</span>
			<DateField
				value={until}
				label="Last day"
				control={{ 'data-field': 'until' }}
				onday={(day) => (until = day ?? '')}
			/>
		</div>
	</div>
	<div class="stand">
		<span id="stand-in">Who decides meanwhile</span>
		{#key again}
			<PersonPicker
				control={{ id: 'stand-in-person', 'aria-labelledby': 'stand-in' }}
				onpick={(p) => (standIn = p?.id ?? '')}
			/>
		{/key}
		<span class="hint">Without anybody, what comes goes to the owner of the service.</span>
	</div>
	<Trouble problem={act.problem} />
	<button class="btn do" disabled={act.running || !from || !until}>Set absence</button>
</form>

<style>
	ul {
		margin-block: 0.8rem;
		border-top: 1px solid var(--line);
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 1rem;
		padding-block: 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	form {
		display: grid;
		gap: 0.7rem;
		max-width: 34rem;
		justify-items: start;
	}
	.days {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.75rem;
	}
	.days > div,
	.stand {
		display: grid;
		gap: 0.2rem;
	}
	.stand {
		width: 100%;
	}
	.whose {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		margin-top: 0.5rem;
		max-width: 34rem;
		white-space: nowrap;
	}
	.whose .select {
		width: auto;
	}
</style>
