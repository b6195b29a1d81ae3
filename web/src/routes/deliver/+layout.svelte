<!-- Deliver: the tasks of my teams, the one that must begin first on top. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { api, asked, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import { slack, taskStates } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import PromiseLine from '$lib/ui/PromiseLine.svelte';
	import Tasks from '$lib/ui/Tasks.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { search } from '$lib/query';
	import type { Query } from './query';

	let { data, children } = $props();
	const act = new Act();
	const tasks = new Paged(
		() => data.tasks,
		(after) => asked(api.GET('/api/tasks', { params: { query: { ...data.query, limit: 50, after } } }))
	);
	const sheetOf = $derived(page.data.task as Schema['TaskSheet'] | undefined);
	const here = $derived(search(data.query));

	// Several at once.
	let picked = $state<Record<string, boolean>>({});
	const keyOf = (t: Schema['TaskLine']) => `${t.request}/${t.key}`;
	const chosen = $derived(tasks.entries.filter((t) => picked[keyOf(t)]));
	const can = $derived({
		take: chosen.length > 0 && chosen.every((t) => t.allowed.includes('take')),
		complete: chosen.length > 0 && chosen.every((t) => t.allowed.includes('complete')),
		handOver: chosen.length > 0 && chosen.every((t) => t.allowed.includes('handOver'))
	});
	let to = $state('');
	let failed = $state<string[]>([]);
	async function all(deed: 'take' | 'complete' | 'handOver') {
		const list = chosen.map((t) => ({ request: t.request, task: t.key }));
		const done = await act.run(() =>
			asked(
				api.POST('/api/tasks', {
					body: { deed, tasks: list, to: deed === 'handOver' ? { person: to } : undefined }
				})
			)
		);
		if (!done) return;
		failed = done.entries.flatMap((e) => (e.problem ? [e.problem] : []));
		picked = {};
	}

	function filter(change: Partial<Query>) {
		void goto(`/deliver${search({ ...data.query, ...change })}`, { keepFocus: true });
	}

	// Views.
	let naming = $state(false);
	let name = $state('');
	let forTeam = $state('');
	async function saveView() {
		const saved = await act.run(() =>
			asked(api.PUT('/api/views', { body: { name, team: forTeam || undefined, query: data.query } }))
		);
		if (saved) {
			naming = false;
			name = '';
		}
	}
	async function dropView(view: Schema['TaskQuery']) {
		const path = { view: view.id ?? '' };
		const done = await act.run(() => asked(api.DELETE('/api/views/{view}', { params: { path } })));
		const { name, team, query } = view;
		if (done)
			void tell(`The view ${name} is discarded.`, () =>
				act.run(() => asked(api.PUT('/api/views', { body: { name, team, query } })))
			);
	}
	/** Where there is little room, filters fold away. */
	let filtering = $state(false);
	const people = $derived(data.load?.entries.filter((e) => e.person) ?? []);
</script>

<Ledger title="Tasks" fold={page.url.pathname === '/deliver' ? undefined : 'All tasks'}>
	{#snippet index()}
		<div class="tools">
			<label class="sr-only" for="words">Find among the tasks</label>
			<input
				id="words"
				class="input"
				placeholder="Reference, person or words"
				value={data.query.words ?? ''}
				onchange={(e) => filter({ words: e.currentTarget.value })}
				data-field="find-task"
			/>
			<button
				class="btn quiet small fold"
				aria-expanded={filtering}
				onclick={() => (filtering = !filtering)}
				data-do="filters">Filters, order and views{here ? ' (some are set)' : ''}</button
			>
			<div class="filters" class:folded={!filtering}>
				<div class="tight">
					<select
						class="select"
						aria-label="Whose"
						value={data.query.who ?? ''}
						onchange={(e) => filter({ who: e.currentTarget.value as Query['who'] })}
						data-field="who"
					>
						<option value="">Everybody’s</option>
						<option value="mine">Mine</option>
						<option value="free">Nobody’s yet</option>
						<option value="others">Others’</option>
					</select>
					<select
						class="select"
						aria-label="Order"
						value={data.query.sort ?? ''}
						onchange={(e) => filter({ sort: e.currentTarget.value as Query['sort'] })}
						data-field="sort"
					>
						<option value="">by latest start</option>
						<option value="due">by due time</option>
						<option value="ready">by waiting</option>
					</select>
				</div>
				<div class="tight">
					<select
						class="select"
						aria-label="State"
						value={data.query.state ?? ''}
						onchange={(e) => filter({ state: e.currentTarget.value as Query['state'] })}
						data-field="state"
					>
						<option value="">any state</option>
						<option value="ready">ready</option>
						<option value="taken">taken</option>
						<option value="asking">asks the asker</option>
						<option value="stuck">stuck</option>
						<option value="undoing">to be taken back</option>
					</select>
					<select
						class="select"
						aria-label="Service"
						value={data.query.service ?? ''}
						onchange={(e) => filter({ service: e.currentTarget.value })}
					>
						<option value="">any service</option>
						{#each data.desk.services as s (s.key)}<option value={s.key}>{s.name}</option>{/each}
					</select>
				</div>
				{#if data.desk.teams.length > 1}
					<select
						class="select"
						aria-label="Team"
						value={data.query.team ?? ''}
						onchange={(e) => filter({ team: e.currentTarget.value })}
					>
						<option value="">all my teams</option>
						{#each data.desk.teams as t (t.key)}<option value={t.key}>{t.name}</option>{/each}
					</select>
				{/if}
				<a class="small" href="/find">Find any request</a>
				<p class="views">
					<label
						><input
							type="checkbox"
							class="checkbox"
							checked={data.query.late ?? false}
							onchange={(e) => filter({ late: e.currentTarget.checked })}
						/> only late</label
					>
					{#if here}<a href="/deliver">all</a>{/if}
					<button class="btn quiet small" onclick={() => (naming = true)} data-do="save-view"
						>Save this view</button
					>
				</p>
				{#if data.desk.views.length}
					<ul class="saved" aria-label="Saved views">
						{#each data.desk.views as v (v.id)}
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
		</div>
		{#if chosen.length}
			<div class="several" role="group" aria-label="{chosen.length} tasks at once">
				<p><strong>{chosen.length} at once</strong></p>
				<div class="tight">
					<button class="btn do" disabled={!can.take || act.running} onclick={() => all('take')}>Take</button>
					<button class="btn plain" disabled={!can.complete || act.running} onclick={() => all('complete')}
						>Done</button
					>
				</div>
				{#if people.length}
					<div class="tight">
						<select class="select" aria-label="Hand over to" bind:value={to}
							><option value="">to …</option>{#each people as p (p.person)}<option value={p.person}
									>{p.name}</option
								>{/each}</select
						>
						<button
							class="btn plain"
							disabled={!can.handOver || !to || act.running}
							onclick={() => all('handOver')}>Hand over</button
						>
					</div>
				{/if}
			</div>
		{/if}
		<Trouble problem={act.problem} />
		{#each failed as problem, i (i)}<p class="problem small tools">{problem}</p>{/each}
		<ul>
			{#each tasks.entries as task (keyOf(task))}
				<li class="task">
					<input
						type="checkbox"
						class="checkbox"
						aria-label="Pick {task.name}, {task.title}"
						bind:checked={() => picked[keyOf(task)] ?? false, (on) => (picked[keyOf(task)] = on)}
					/>
					<a
						href="/deliver/{task.request}/{task.key}{here}"
						aria-current={page.params.request === task.request && page.params.task === task.key
							? 'page'
							: undefined}
					>
						<span class="first"
							><strong>{task.name}</strong>{#if task.slack !== undefined}<span
									class="mono slack"
									class:late={task.slack < 0}
									title="Working time until it must {task.state === 'taken' ? 'end' : 'begin'}"
									>{slack(task.slack)}</span
								>{/if}</span
						>
						<span class="note"
							>{task.title} · {task.for}<br />{#if task.yours}<b>with you</b
								>{:else if task.holder}{task.holder}{:else}{task.team}{/if}{#if task.undo}, <b class="warn"
									>to be taken back</b
								>{:else if task.state !== 'ready'}, <span class:warn={task.state === 'stuck'}
									>{taskStates[task.state]}</span
								>{/if}{#if task.late}, <span class="warn" data-late>request late</span>{/if}</span
						>
					</a>
				</li>
			{:else}
				<li class="none soft">{here ? 'No task fits this view.' : 'Nothing waits for your teams.'}</li>
			{/each}
		</ul>
		{#if tasks.next}<More more={tasks.more} />{/if}
	{/snippet}
	{#snippet sheet()}{#key `${page.params.request}/${page.params.task}`}{@render children()}{/key}{/snippet}
	{#snippet margin()}
		{#if sheetOf?.key}
			<h2 class="fact">Request</h2>
			<p>
				{#if sheetOf.whole}<a href="/follow/{sheetOf.request}"><strong>{sheetOf.title}</strong></a
					>{:else}<strong>{sheetOf.title}</strong>{/if}<br /><span class="mono">{sheetOf.reference}</span><br
				/>asked by {sheetOf.asker}{#if sheetOf.for !== sheetOf.asker}, for {sheetOf.for}{/if}
			</p>
			{#if sheetOf.promise}
				<h2 class="fact">Promise</h2>
				<PromiseLine promise={sheetOf.promise} forecast={sheetOf.forecast} />
			{/if}
			{#if sheetOf.others.length}
				<h2 class="fact">Its other tasks</h2>
				<Tasks tasks={sheetOf.others} />
			{/if}
		{/if}
		{#if data.load && data.team}
			<h2 class="fact">{data.team.name}: who has how much</h2>
			<table class="load">
				<thead
					><tr
						><th scope="col">Who</th><th scope="col">open</th><th scope="col">late</th><th scope="col"
							>stuck</th
						></tr
					></thead
				>
				<tbody>
					{#each data.load.entries as e (e.person ?? '')}
						<tr
							><td
								>{e.name}{#if e.absent}<span class="soft"> (absent)</span>{/if}</td
							><td class="mono">{e.open}</td><td class="mono" class:warn={e.late > 0}>{e.late}</td><td
								class="mono"
								class:warn={e.stuck > 0}>{e.stuck}</td
							></tr
						>
					{/each}
				</tbody>
			</table>
		{/if}
		<p class="soft small"><a href="/deliver/replies">Prepared replies</a></p>
	{/snippet}
</Ledger>

<Dialog bind:open={naming} title="Save this view">
	<Field label="Name"><input class="input" bind:value={name} maxlength="60" data-field="view-name" /></Field>
	{#if data.desk.teams.some((t) => t.lead)}
		<Field label="For"
			><select class="select" bind:value={forTeam}
				><option value="">myself</option>{#each data.desk.teams.filter((t) => t.lead) as t (t.key)}<option
						value={t.key}>everybody in {t.name}</option
					>{/each}</select
			></Field
		>
	{/if}
	<Trouble problem={act.problem} />
	<div class="tight">
		<button class="btn do" onclick={saveView} disabled={!name.trim() || act.running} data-do="keep-view"
			>Save</button
		>
		<button class="btn plain" onclick={() => (naming = false)}>Not now</button>
	</div>
</Dialog>

<style>
	.filters {
		display: grid;
		gap: 0.4rem;
	}
	.tools {
		padding: 0 0.75rem 0.6rem;
		display: grid;
		gap: 0.4rem;
	}
	.tight {
		display: flex;
		gap: 0.4rem;
	}
	.tight > .select {
		flex: 1;
		min-width: 0;
	}
	.tools .select,
	.tools .input {
		font-size: 0.875rem;
		min-height: 1.9rem;
		padding-block: 0.1rem;
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
	.several {
		padding: 0.5rem 0.75rem;
		display: grid;
		gap: 0.4rem;
		background: var(--sound-wash);
	}
	.task {
		display: grid;
		grid-template-columns: 2rem minmax(0, 1fr);
		align-items: start;
		border-bottom: 1px solid var(--line);
	}
	.task > .checkbox {
		margin: 0.7rem 0 0 0.6rem;
	}
	.task > a {
		padding: 0.5rem 0.75rem 0.5rem 0.4rem;
		display: block;
	}
	.first {
		display: flex;
		justify-content: space-between;
		gap: 0.5rem;
		align-items: baseline;
		line-height: 1.3;
	}
	.slack {
		white-space: nowrap;
		word-spacing: -0.35em;
		font-size: 0.8125rem;
	}
	.slack.late,
	.warn {
		color: var(--buoy-text);
		font-weight: 600;
	}
	.note {
		display: block;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		line-height: 1.35;
	}
	.none {
		padding: 1rem;
	}
	.load {
		width: 100%;
	}
	.load th {
		text-align: left;
		font-weight: 500;
		color: var(--ink-soft);
	}
	.load td {
		padding-block: 0.1rem;
	}
</style>
