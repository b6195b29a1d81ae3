<!-- What narrows and orders the tasks, and the views of it that are saved. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { search } from '$lib/query';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Filters from '$lib/ui/Filters.svelte';
	import OneOf from '$lib/ui/OneOf.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import type { Query } from './query';

	let { query, desk, act }: { query: Query; desk: Schema['DeskView']; act: Act } = $props();
	const here = $derived(search(query));
	function filter(change: Partial<Query>) {
		void goto(`/deliver${search({ ...query, ...change })}`, { keepFocus: true });
	}
	const named = (list: Schema['Named'][]) => list.map((one) => [one.key, one.name] as const);
	/** Where there is little room, filters fold away. */
	let filtering = $state(false);

	let naming = $state(false);
	let name = $state('');
	let forTeam = $state('');
	async function saveView() {
		const saved = await act.run(() =>
			unwrap(api.PUT('/api/views', { body: { name, team: forTeam || undefined, query } }))
		);
		if (saved) {
			naming = false;
			name = '';
		}
	}
	async function dropView(view: Schema['TaskQuery']) {
		const path = { view: view.id ?? '' };
		const done = await act.run(() => unwrap(api.DELETE('/api/views/{view}', { params: { path } })));
		const body = { name: view.name, team: view.team, query: view.query };
		if (done)
			void tell(`The view ${view.name} is discarded.`, () =>
				act.run(() => unwrap(api.PUT('/api/views', { body })))
			);
	}
</script>

<div class="bar">
	<Filters
		label="Find among the tasks"
		placeholder="Reference, person or words"
		words={query.words ?? ''}
		field="find-task"
		onwords={(words) => filter({ words })}
	>
		<button
			class="btn quiet small fold"
			aria-expanded={filtering}
			onclick={() => (filtering = !filtering)}
			data-do="filters">Filters, order and views{here ? ' (some are set)' : ''}</button
		>
		<div class="all" class:folded={!filtering}>
			<div class="halves">
				<OneOf
					label="Whose"
					value={query.who}
					field="who"
					choices={[
						['', 'Everybody’s'],
						['mine', 'Mine'],
						['free', 'Nobody’s yet'],
						['others', 'Others’']
					]}
					onpick={(who) => filter({ who })}
				/>
				<OneOf
					label="Order"
					value={query.sort}
					field="sort"
					choices={[
						['', 'by latest start'],
						['due', 'by due time'],
						['ready', 'by waiting']
					]}
					onpick={(sort) => filter({ sort })}
				/>
				<OneOf
					label="State"
					value={query.state}
					field="state"
					choices={[
						['', 'any state'],
						['ready', 'ready'],
						['taken', 'taken'],
						['asking', 'asks the asker'],
						['stuck', 'stuck'],
						['undoing', 'to be taken back']
					]}
					onpick={(state) => filter({ state })}
				/>
				<OneOf
					label="Service"
					value={query.service}
					choices={[['', 'any service'], ...named(desk.services)]}
					onpick={(service) => filter({ service })}
				/>
			</div>
			{#if desk.teams.length > 1}
				<OneOf
					label="Team"
					value={query.team}
					choices={[['', 'all my teams'], ...named(desk.teams)]}
					onpick={(team) => filter({ team })}
				/>
			{/if}
			<p class="small ways">
				<a href="/mine">My list</a>
				<a href="/find">Find any request</a>
			</p>
			<p class="views">
				<label
					><input
						type="checkbox"
						class="checkbox"
						checked={query.late ?? false}
						onchange={(e) => filter({ late: e.currentTarget.checked })}
					/> only late</label
				>
				{#if here}<a href="/deliver">all</a>{/if}
				<button class="btn quiet small" onclick={() => (naming = true)} data-do="save-view"
					>Save this view</button
				>
			</p>
			{#if desk.views.length}
				<ul class="saved" aria-label="Saved views">
					{#each desk.views as v (v.id)}
						<li>
							<a href="/deliver{search(v.query)}" data-view={v.name}>{v.name}</a>{#if v.yours}<button
									class="btn quiet small"
									aria-label="Discard the view {v.name}"
									onclick={() => dropView(v)}>×</button
								>{/if}
						</li>
					{/each}
				</ul>
			{/if}
		</div>
	</Filters>
</div>

<Dialog bind:open={naming} title="Save this view">
	<Field label="Name"><input class="input" bind:value={name} maxlength="60" data-field="view-name" /></Field>
	{#if desk.teams.some((t) => t.lead)}
		<Field label="For"
			><select class="select" bind:value={forTeam}
				><option value="">myself</option>{#each desk.teams.filter((t) => t.lead) as t (t.key)}<option
						value={t.key}>everybody in {t.name}</option
					>{/each}</select
			></Field
		>
	{/if}
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={saveView} disabled={!name.trim() || act.running} data-do="keep-view"
			>Save</button
		>
		<button class="btn plain" onclick={() => (naming = false)}>Not now</button>
	</div>
</Dialog>

<style>
	.ways {
		display: flex;
		gap: 1rem;
	}
	.bar {
		--inset: 0.75rem;
	}
	.all {
		display: grid;
		gap: 0.4rem;
	}
	.halves {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.4rem;
	}
	.views label {
		display: flex;
		gap: 0.35rem;
		align-items: center;
	}
	.views,
	.saved {
		display: flex;
		flex-wrap: wrap;
		gap: 0.2rem 0.7rem;
		align-items: center;
		font-size: 0.8125rem;
	}
</style>
