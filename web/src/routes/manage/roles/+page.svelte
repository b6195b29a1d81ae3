<!-- Who has which role, and who is to have one. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import Table from '$lib/ui/Table.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	const r = $derived(data.roles);
	const me = $derived(data.session.person?.id);
	const administers = $derived(data.session.roles.includes('administrator'));
	type Entry = Schema['RoleView'];
	const roles: Record<Entry['role'], { name: string; may: string }> = {
		administrator: {
			name: 'Administrator',
			may: 'keeps the company, systems and settings; sees no request by that'
		},
		auditor: { name: 'Auditor', may: 'reads the audit and who has which role' },
		analyst: { name: 'Analyst', may: 'measures, without answers' },
		executive: { name: 'Executive', may: 'measures the whole company' },
		'caller-staff': { name: 'Caller staff', may: 'sends requests for others' },
		tester: { name: 'Tester', may: 'acts as anybody, in a trial alone' }
	};
	const columns = [
		{ key: 'name', name: 'Person', by: (e: Entry) => e.name },
		{ key: 'role', name: 'Role', by: (e: Entry) => roles[e.role].name },
		{ key: 'state', name: 'How it stands', by: (e: Entry) => e.by ?? '' },
		{ key: 'deeds', name: 'Deeds', quiet: true }
	];
	let whom = $state<Schema['PersonView']>();
	let role = $state<Entry['role']>('auditor');
	let again = $state(0);

	async function give() {
		if (!whom) return;
		const { name } = whom;
		const given = await act.run(() => unwrap(api.POST('/api/roles', { body: { person: whom!.id, role } })));
		if (!given) return;
		void tell(
			given.waits
				? `${name} waits for another administrator's yes.`
				: `${name} has the role now, and is told.`
		);
		whom = undefined;
		again++;
	}
	const answer = (e: Entry, yes: boolean) =>
		act.run(() => unwrap(api.POST('/api/roles/answer', { body: { person: e.person, role: e.role, yes } })));
	const take = (e: Entry) =>
		confirm(`Take the role of ${roles[e.role].name.toLowerCase()} from ${e.name}? Their sessions end.`) &&
		act.run(() =>
			unwrap(
				api.DELETE('/api/roles/{person}/{role}', { params: { path: { person: e.person, role: e.role } } })
			)
		);
</script>

<svelte:head><title>Roles · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<h1>Roles</h1>
	<p class="soft">
		Who owns a service, leads a team or manages somebody follows from the company. These roles are given.
	</p>
	{#if r.alone && administers}
		<p class="note">
			There is one administrator. What needs another's yes is granted at once, and audited; that ends when
			there are two.
		</p>
	{/if}
	{#if administers}
		<form
			onsubmit={(e) => {
				e.preventDefault();
				void give();
			}}
		>
			<Field label="Who" several>
				{#key again}<PersonPicker
						name={whom?.name}
						control={{ id: 'whom', 'aria-label': 'Who gets a role' }}
						onpick={(p) => (whom = p)}
					/>{/key}
			</Field>
			<Field label="Role" hint={roles[role].may}
				><select class="select" bind:value={role} data-field="role">
					{#each Object.entries(roles) as [key, { name }] (key)}<option value={key}>{name}</option>{/each}
				</select></Field
			>
			<button class="btn do" disabled={!whom || act.running} data-do="give">Give the role</button>
		</form>
		<Trouble problem={act.problem} />
	{/if}
	<Table
		label="Roles"
		{columns}
		rows={r.entries}
		id={(e) => e.person + e.role}
		none="Nobody has one."
		data={(e) => ({ 'data-role': e.role })}
	>
		{#snippet cells(e)}
			<th scope="row">{e.name}<span class="soft small title">{e.title}</span></th>
			<td>{roles[e.role].name}<span class="soft small title">{roles[e.role].may}</span></td>
			<td
				>{#if e.by}asked for by {e.by}, waits for another administrator{:else}given{/if}</td
			>
			<td class="deeds">
				{#if administers && e.by}
					<button class="btn plain" disabled={act.running} onclick={() => answer(e, true)} data-do="allow"
						>Allow</button
					>
					<button class="btn quiet" disabled={act.running} onclick={() => answer(e, false)}>Refuse</button>
				{:else if administers}
					<button class="btn quiet" disabled={act.running} onclick={() => take(e)}
						>Take away{#if e.person === me}<span class="sr-only"> from yourself</span>{/if}</button
					>
				{/if}
			</td>
		{/snippet}
	</Table>
</main>

<style>
	form {
		display: grid;
		grid-template-columns: minmax(12rem, 20rem) minmax(12rem, 20rem) auto;
		gap: 0.9rem;
		align-items: start;
		margin-block: 1rem;
	}
	form .btn {
		margin-top: 1.45rem;
		justify-self: start;
	}
	.note {
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
		margin-top: 0.75rem;
	}
	.title {
		display: block;
		font-weight: 400;
	}
	.deeds {
		white-space: nowrap;
	}
	.deeds .btn {
		padding-block: 0.15rem;
	}
	@media (max-width: 700px) {
		form {
			grid-template-columns: minmax(0, 1fr);
		}
		form .btn {
			margin-top: 0;
		}
	}
</style>
