<!-- Somebody who is away in a rehearsal, and who stands in. -->
<script lang="ts">
	import DateField from '$lib/ui/DateField.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { shortDate } from '$lib/words';
	import { getRehearsal } from './rehearsal.svelte';
	const rehearsal = getRehearsal();

	let who = $state({ login: '', name: '' });
	let stand = $state({ login: '', name: '' });
	let from = $state('');
	let until = $state('');
	let names = $state<Record<string, string>>({});
	const ready = $derived(who.login && from && until && until > from);

	function add() {
		names = { ...names, [who.login]: who.name, [stand.login]: stand.name };
		rehearsal.absences = [
			...rehearsal.absences,
			{
				person: who.login,
				from: `${from}T00:00:00Z`,
				until: `${until}T00:00:00Z`,
				...(stand.login ? { standIn: stand.login } : {})
			}
		];
		[who, stand, from, until] = [{ login: '', name: '' }, { login: '', name: '' }, '', ''];
		void rehearsal.run();
	}
	const name = (login: string) => names[login] ?? rehearsal.result?.names[login] ?? login;
</script>

{#each rehearsal.absences as absence, i (i)}
	<p class="small">
		{name(absence.person)}, {shortDate(absence.from.slice(0, 10))} to {shortDate(
			absence.until.slice(0, 10)
		)}{#if absence.standIn};
			{name(absence.standIn)} stands in{/if}
		<button
			class="btn quiet small"
			onclick={() => {
				rehearsal.absences = rehearsal.absences.filter((_, j) => j !== i);
				void rehearsal.run();
			}}
			aria-label="{name(absence.person)} is there">not</button
		>
	</p>
{/each}
<div class="add">
	<PersonPicker
		name={who.name}
		control={{ id: 'away-who', 'aria-label': 'Who is away', 'data-field': 'away' }}
		onpick={(p) => (who = { login: p?.login ?? '', name: p?.name ?? '' })}
	/>
	<span class="days">
		<DateField
			value={from}
			label="Away from"
			control={{ 'data-field': 'away-from' }}
			onday={(d) => (from = d ?? '')}
		/>
		<DateField
			value={until}
			label="Back on"
			control={{ 'data-field': 'away-until' }}
			onday={(d) => (until = d ?? '')}
		/>
	</span>
	<PersonPicker
		name={stand.name}
		control={{
			id: 'away-stand',
			'aria-label': 'Who stands in',
			placeholder: 'who stands in, if anybody',
			'data-field': 'away-stand'
		}}
		onpick={(p) => (stand = { login: p?.login ?? '', name: p?.name ?? '' })}
	/>
	<button class="btn plain small" disabled={!ready} onclick={add}>Is away</button>
</div>

<style>
	.add {
		display: grid;
		gap: 0.35rem;
		justify-items: start;
		margin-top: 0.3rem;
	}
	.days {
		display: flex;
		gap: 0.35rem;
	}
</style>
