<!-- Deliver: the tasks of my teams, the one that must begin first on top. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Margin from '$lib/deliver/Margin.svelte';
	import Several from '$lib/deliver/Several.svelte';
	import TaskEntry from '$lib/deliver/TaskEntry.svelte';
	import TaskFilters from '$lib/deliver/TaskFilters.svelte';
	import { Paged } from '$lib/paged.svelte';
	import { search } from '$lib/query';
	import { Act } from '$lib/ui/act.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import Rows from '$lib/ui/Rows.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data, children } = $props();
	const act = new Act();
	const tasks = new Paged(
		() => data.tasks,
		(after) => unwrap(api.GET('/api/tasks', { params: { query: { ...data.query, limit: 50, after } } }))
	);
	const sheetOf = $derived(page.data.task as Schema['TaskSheet'] | undefined);
	const here = $derived(search(data.query));

	// Several at once.
	let picked = $state<Record<string, boolean>>({});
	const keyOf = (t: Schema['TaskLine']) => `${t.request}/${t.key}`;
	const chosen = $derived(tasks.entries.filter((t) => picked[keyOf(t)]));
	let failed = $state<string[]>([]);
	async function all(deed: 'take' | 'complete' | 'handOver', to?: string) {
		const list = chosen.map((t) => ({ request: t.request, task: t.key }));
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/tasks', {
					body: { deed, tasks: list, to: to ? { person: to } : undefined }
				})
			)
		);
		if (!done) return;
		failed = done.entries.flatMap((e) => (e.problem ? [e.problem] : []));
		picked = {};
	}

	const people = $derived(data.load?.entries.filter((e) => e.person) ?? []);
</script>

<Ledger title="Tasks" fold={page.url.pathname === '/deliver' ? undefined : 'All tasks'}>
	{#snippet index()}
		<TaskFilters query={data.query} desk={data.desk} {act} />
		{#if chosen.length}<Several {chosen} {people} running={act.running} ondo={all} />{/if}
		<Trouble problem={act.problem} />
		{#each failed as problem, i (i)}<p class="problem small failed">{problem}</p>{/each}
		<ul>
			<Rows entries={tasks.entries} key={keyOf}>
				{#snippet row(task, line)}
					<li class="task" {...line}>
						<input
							type="checkbox"
							class="checkbox"
							aria-label="Pick {task.name}, {task.title}"
							bind:checked={() => picked[keyOf(task)] ?? false, (on) => (picked[keyOf(task)] = on)}
						/>
						<TaskEntry
							{task}
							href="/deliver/{task.request}/{task.key}{here}"
							here={page.params.request === task.request && page.params.task === task.key}
						/>
					</li>
				{/snippet}
			</Rows>
			{#if !tasks.entries.length}
				<li class="none soft">{here ? 'No task fits this view.' : 'Nothing waits for your teams.'}</li>
			{/if}
		</ul>
		{#if tasks.next}<More more={tasks.more} />{/if}
	{/snippet}
	{#snippet sheet()}{#key `${page.params.request}/${page.params.task}`}{@render children()}{/key}{/snippet}
	{#snippet margin()}
		<Margin sheet={sheetOf} team={data.team} load={data.load?.entries} />
		<p class="soft small"><a href="/deliver/replies">Prepared replies</a></p>
	{/snippet}
</Ledger>

<style>
	.task {
		display: grid;
		grid-template-columns: 2rem minmax(0, 1fr);
		align-items: start;
		border-bottom: 1px solid var(--line);
	}
	.task > .checkbox {
		margin: 0.7rem 0 0 0.6rem;
	}
	.none {
		padding: 1rem;
	}
	.failed {
		padding-inline: 0.75rem;
	}
</style>
