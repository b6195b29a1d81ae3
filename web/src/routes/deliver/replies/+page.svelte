<!-- Prepared replies: one's own, and those of a team. -->
<script lang="ts">
	import { tell } from '$lib/ui/told.svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	const empty: Schema['ReplyView'] = { name: '', text: '' };
	let editing = $state<Schema['ReplyView']>({ ...empty });
	const leads = $derived(data.desk.teams.filter((t) => t.lead));
	const offeringName = (key: string | undefined) =>
		key ? `, for ${data.desk.offerings.find((o) => o.key === key)?.name ?? key}` : '';
	const teamName = (key: string | undefined) =>
		data.desk.teams.find((t) => t.key === key)?.name ?? 'your own';

	async function keep() {
		const { id, name, text, team, offering } = editing;
		const kept = await act.run(() =>
			unwrap(api.PUT('/api/replies', { body: { id, name, text, team: team || undefined, offering } }))
		);
		if (kept) editing = { ...empty };
	}
	async function drop(reply: Schema['ReplyView']) {
		const path = { reply: reply.id ?? '' };
		const done = await act.run(() => unwrap(api.DELETE('/api/replies/{reply}', { params: { path } })));
		const { name, text, team, offering } = reply;
		if (done)
			void tell(`${name} is discarded.`, () =>
				act.run(() => unwrap(api.PUT('/api/replies', { body: { name, text, team, offering } })))
			);
	}
</script>

<svelte:head><title>Prepared replies · Heptad</title></svelte:head>
<h1>Prepared replies</h1>
<p class="soft">
	Texts you use again and again. Names fill themselves in: <code>{'{{ asker.name }}'}</code>,
	<code>{'{{ beneficiary.name }}'}</code>, <code>{'{{ task.name }}'}</code>,
	<code>{'{{ request.title }}'}</code>, <code>{'{{ request.reference }}'}</code>: the same as in all texts.
</p>
<ul>
	{#each data.replies.entries as reply (reply.id)}
		<li>
			<strong>{reply.name}</strong>
			<span class="soft small">{teamName(reply.team)}{offeringName(reply.offering)}</span>
			<p class="text">{reply.text}</p>
			{#if reply.yours}
				<button class="btn quiet small" onclick={() => (editing = { ...reply })}>Change</button>
				<button class="btn quiet small" onclick={() => drop(reply)}>Discard</button>
			{/if}
		</li>
	{:else}
		<li class="soft">There are none yet.</li>
	{/each}
</ul>
<form
	onsubmit={(e) => {
		e.preventDefault();
		void keep();
	}}
>
	<h2>{editing.id ? 'Change it' : 'Another one'}</h2>
	<label
		><span>Name</span><input
			class="input"
			bind:value={editing.name}
			maxlength="120"
			data-field="name"
		/></label
	>
	<label
		><span>Text</span><textarea
			class="textarea"
			rows="4"
			bind:value={editing.text}
			maxlength="2000"
			data-field="text"></textarea></label
	>
	<label
		><span>Offered on tasks of</span><select
			class="select"
			bind:value={editing.offering}
			data-field="reply-offering"
			><option value={undefined}>every offering</option>{#each data.desk.offerings as o (o.key)}<option
					value={o.key}>{o.name}</option
				>{/each}</select
		></label
	>
	{#if leads.length}
		<label
			><span>For</span><select class="select" bind:value={editing.team}
				><option value={undefined}>myself</option>{#each leads as t (t.key)}<option value={t.key}
						>everybody in {t.name}</option
					>{/each}</select
			></label
		>
	{/if}
	<Trouble problem={act.problem} />
	<div>
		<button class="btn do" disabled={act.running || !editing.name.trim() || !editing.text.trim()}>Save</button
		>
		{#if editing.id}<button type="button" class="btn plain" onclick={() => (editing = { ...empty })}
				>Leave it as it was</button
			>{/if}
	</div>
</form>

<style>
	li {
		padding-block: 0.6rem;
		border-bottom: 1px solid var(--line);
	}
	.text {
		white-space: pre-line;
	}
	form {
		display: grid;
		gap: 0.6rem;
		max-width: 38rem;
		margin-top: 1.2rem;
	}
	label {
		display: grid;
		gap: 0.2rem;
	}
</style>
