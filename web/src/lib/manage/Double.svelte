<!-- Somebody who is kept twice: what goes over to the other record is shown first. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	type Props = { person: string; name: string; onmerged: () => void };
	let { person, name, onmerged }: Props = $props();
	const act = new Act();
	let into = $state.raw<Schema['PersonView'] | undefined>();
	let goes = $state.raw<Schema['DoubledBody'] | undefined>();
	const count = (n: number, one: string, many: string) => (n ? [n === 1 ? one : `${n} ${many}`] : []);
	const list = $derived(
		goes
			? [
					...count(goes.belongings, 'one belonging', 'belongings'),
					...count(goes.duties, 'one thing they answer for', 'things they answer for'),
					...(goes.teams.length ? [`the teams ${goes.teams.join(', ')}`] : [])
				]
			: []
	);
	async function choose(other: Schema['PersonView'] | undefined) {
		[into, goes] = [other, undefined];
		if (!other) return;
		goes = await act.run(() =>
			unwrap(
				api.GET('/api/people/{person}/double', { params: { path: { person }, query: { into: other.id } } })
			)
		);
	}
	async function merge() {
		if (!into) return;
		const body = { into: into.id };
		const done = await act.run(() =>
			unwrap(api.POST('/api/people/{person}/double', { params: { path: { person } }, body })).then(() => true)
		);
		if (!done) return;
		void tell(`${name} and ${into.name} are one.`);
		onmerged();
	}
</script>

<details data-double>
	<summary>They are here twice</summary>
	<p class="soft small">
		This record becomes inactive, and the other one takes over what hangs on it. What happened stays as it
		was.
	</p>
	<PersonPicker control={{ id: 'double', 'aria-label': 'The record that stays' }} onpick={choose} />
	{#if goes && into}
		<p>
			{into.name} ({into.title || into.department}) gets {list.join(', ') || 'nothing: there is nothing'}.
			{#if goes.underWay}They follow {goes.underWay === 1 ? 'one request' : `${goes.underWay} requests`} under way.{/if}
			{#if goes.drafts}{goes.drafts === 1 ? 'One draft is' : `${goes.drafts} drafts are`} lost.{/if}
			{#if goes.roles.length}The roles do not go over: {goes.roles.join(', ')}.{/if}
		</p>
	{/if}
	<Trouble problem={act.problem} />
	{#if goes}
		<button type="button" class="btn plain" onclick={merge} disabled={act.running} data-do="merge"
			>Make them one</button
		>
	{/if}
</details>

<style>
	summary {
		cursor: pointer;
		font-weight: 600;
	}
	details[open] {
		display: grid;
		gap: 0.5rem;
	}
	.btn {
		justify-self: start;
	}
</style>
