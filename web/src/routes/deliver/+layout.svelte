<!-- Deliver: the tasks of my teams. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, asked, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import Entry from '$lib/ui/Entry.svelte';
	import Group from '$lib/ui/Group.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import Tasks from '$lib/ui/Tasks.svelte';
	import When from '$lib/ui/When.svelte';

	let { data, children } = $props();
	const tasks = new Paged(
		() => data.tasks,
		(after) => asked(api.GET('/api/tasks', { params: { query: { limit: 50, after } } }))
	);
	const groups = $derived([
		{ name: 'Stuck', entries: tasks.entries.filter((t) => t.state === 'stuck') },
		{ name: 'You have taken', entries: tasks.entries.filter((t) => t.state === 'taken' && t.yours) },
		{ name: 'To be taken', entries: tasks.entries.filter((t) => t.state === 'ready') },
		{ name: 'Others have taken', entries: tasks.entries.filter((t) => t.state === 'taken' && !t.yours) }
	]);
	const sheetOf = $derived(page.data.task as Schema['TaskSheet'] | undefined);
</script>

<Ledger title="Tasks">
	{#snippet index()}
		{#each groups.filter((g) => g.entries.length) as group (group.name)}
			<Group name={group.name} count={group.entries.length}>
				{#each group.entries as task (task.request + task.key)}
					<li>
						<Entry
							href="/deliver/{task.request}/{task.key}"
							here={page.params.request === task.request && page.params.task === task.key}
							title={task.name}
						>
							{#snippet note()}
								{task.title} · {task.asker}<br />
								{task.team}{#if task.holder && !task.yours}, {task.holder}{/if} · since <When
									time={task.since}
								/>
							{/snippet}
						</Entry>
					</li>
				{/each}
			</Group>
		{:else}
			<p class="none soft">Nothing waits for your teams.</p>
		{/each}
		{#if tasks.next}<More more={tasks.more} />{/if}
	{/snippet}
	{#snippet sheet()}{#key `${page.params.request}/${page.params.task}`}{@render children()}{/key}{/snippet}
	{#snippet margin()}
		{#if sheetOf}
			<h2 class="fact">Request</h2>
			<p>
				<strong>{sheetOf.title}</strong><br /><span class="mono">{sheetOf.reference}</span><br />for {sheetOf.asker}
			</p>
			{#if sheetOf.others.length}
				<h2 class="fact">Its other tasks</h2>
				<Tasks tasks={sheetOf.others} />
			{/if}
		{/if}
	{/snippet}
</Ledger>

<style>
	.none {
		padding: 1rem;
	}
</style>
