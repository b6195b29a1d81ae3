<!-- Manage: the other systems, and the work that goes on by itself. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Reach from '$lib/manage/Reach.svelte';
	import Grants from '$lib/manage/Grants.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Table from '$lib/ui/Table.svelte';
	import type { Column } from '$lib/ui/table';
	import Tabs from '$lib/ui/Tabs.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const b = $derived(data.background);
	let edited = $state.raw<Schema['ConnectorView']>();

	const parts = $derived([
		['systems', 'Other systems'],
		['alone', b.aside.length ? `By itself (${b.aside.length} set aside)` : 'By itself'],
		['reports', 'Reports from outside'],
		['grants', 'What services may do']
	] as const);
	const columns: Column<Schema['ConnectorView']>[] = [
		{ key: 'name', name: 'System', by: (c) => c.name },
		{ key: 'health', name: 'How it is', by: health },
		{ key: 'success', name: 'Last success', by: (c) => c.success ?? '' },
		{ key: 'running', name: 'Running', by: (c) => c.running },
		{ key: 'waiting', name: 'Waiting', by: (c) => c.waiting },
		{ key: 'stuck', name: 'Stuck', by: (c) => c.stuck },
		{ key: 'deeds', name: 'Deeds', quiet: true }
	];

	/** What was to be done with what is set aside. */
	const lanes: Record<string, string> = {
		effect: 'a step of the request',
		forecast: 'the forecast of the request',
		publishing: 'publishing the offering',
		'stand-ins': 'finding who stands in, request',
		leavers: 'freeing the task of who left',
		'waiting list': 'a place in the pool for',
		reminder: 'the reminder of',
		mail: 'the mail of message'
	};

	const tryAgain = (one: Schema['AsideView']) =>
		act.run(() => unwrap(api.POST('/api/background/aside', { body: { lane: one.lane, id: one.id } })));
	const look = () => act.run(() => unwrap(api.POST('/api/background/look')));
	const retry = (connector: string) =>
		act.run(() => unwrap(api.POST('/api/connectors/{connector}/retry', { params: { path: { connector } } })));
	function health(c: Schema['ConnectorView']) {
		if (c.paused) return 'does not answer';
		if (c.trouble) return 'in trouble';
		return c.success ? 'well' : 'not called yet';
	}
</script>

<svelte:head><title>Other systems · Manage · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<h1>Other systems</h1>
	<p class="pulse" data-pulse>
		<strong class:warn={b.still}
			>{b.still
				? 'Nothing goes on by itself just now.'
				: b.looked
					? 'All goes on by itself.'
					: 'It has not begun yet.'}</strong
		>
		{#if b.looked}Last looked for what is due <When time={b.looked} />{#if b.next && !b.still}, looks again <When
					time={b.next}
				/> or as soon as something happens{/if}.{/if}
		<button class="btn quiet" disabled={act.running} onclick={look} data-do="look">Look now</button>
	</p>
	<Trouble problem={act.problem} />
	<Tabs label="Parts of other systems" {parts}>
		{#snippet children(part)}
			{#if part === 'systems'}
				<p class="soft">
					What tasks call by themselves. A system that does not answer is left alone for a while and tried
					again.
				</p>
				<Table
					label="Other systems"
					{columns}
					rows={b.connectors}
					id={(c) => c.key}
					none="No other system is connected."
					data={(c) => ({ 'data-connector': c.key })}
				>
					{#snippet cells(c)}
						<th scope="row">{c.name}<span class="soft small mono url">{c.url}</span></th>
						<td
							><strong class:warn={c.paused || c.trouble}>{health(c)}</strong>{#if c.trouble}<span
									class="small trouble">{c.trouble}</span
								>{/if}{#if c.paused}<span class="small soft">tried again <When time={c.paused} /></span
								>{/if}</td
						>
						<td
							>{#if c.success}<When time={c.success} />{:else}<span class="soft">never</span>{/if}</td
						>
						<td class="mono">{c.running}</td>
						<td class="mono">{c.waiting}</td>
						<td class="mono" class:warn={c.stuck > 0}>{c.stuck}</td>
						<td class="deeds"
							><button class="btn quiet" onclick={() => (edited = c)}>Change</button>
							{#if c.stuck > 0 || c.paused}<button
									class="btn plain"
									disabled={act.running}
									onclick={() => retry(c.key)}
									data-do="retry-{c.key}">Try all again</button
								>{/if}</td
						>
					{/snippet}
				</Table>

				<h2>Stuck</h2>
				{#if b.stuck.length}
					<ul>
						{#each b.stuck as job, i (i)}
							<li>
								<span class="mono">{job.reference}</span>
								{job.task}, {job.connector}: <span class="problem">{job.trouble}</span>
							</li>
						{/each}
					</ul>
				{:else}<p class="soft">Nothing is stuck.</p>{/if}
				<h2>Running and waiting</h2>
				{#if b.jobs.length}
					<ul>
						{#each b.jobs as job, i (i)}
							<li>
								<span class="mono">{job.reference}</span>
								{job.task}, {job.connector}: {job.state}{#if job.due}, <When
										time={job.due}
									/>{/if}{#if job.trouble}; last: {job.trouble}{/if}
							</li>
						{/each}
					</ul>
				{:else}<p class="soft">No call is under way.</p>{/if}
			{:else if part === 'alone'}
				<h2>Set aside</h2>
				{#if b.aside.length}
					<p class="soft">
						Each could not be handled for a reason of its own. The rest goes on without it; when the reason is
						mended, try it again.
					</p>
					<ul>
						{#each b.aside as one (one.lane + one.id)}
							<li data-aside={one.id}>
								<When time={one.at} absolute />
								{lanes[one.lane] ?? one.lane} <span class="mono small">{one.id}</span>:
								<span class="problem">{one.reason}</span>
								<button
									class="btn quiet"
									disabled={act.running}
									onclick={() => tryAgain(one)}
									data-do="try-again">Try again<span class="sr-only">&nbsp;{one.lane} {one.id}</span></button
								>
							</li>
						{/each}
					</ul>
				{:else}<p class="soft">Nothing is set aside.</p>{/if}
				<h2>Standstills</h2>
				{#if b.standstills.length}
					<ul>
						{#each b.standstills as one, i (i)}
							<li>
								<When time={one.from} absolute /> to <When time={one.until} absolute />: {one.reason}
								<span class="soft"
									>{one.due === 1 ? 'One thing' : `${one.due || 'No'} things`} fell due meanwhile{one.due
										? ', caught up since'
										: ''}.</span
								>
							</li>
						{/each}
					</ul>
				{:else}<p class="soft">It never stood still.</p>{/if}
			{:else if part === 'reports'}
				{#each b.forgeries as forged (forged.connector)}
					<p>
						<strong class="warn">{forged.count} forged</strong> for {forged.connector}: the signature was
						wrong. They are counted and not kept; the last came <When time={forged.last} />.
					</p>
				{/each}
				{#if b.reports.length}
					<ul>
						{#each b.reports as report, i (i)}
							<li>
								<When time={report.at} absolute />
								{report.connector}: {report.verdict} <span class="soft mono small">{report.step}</span>
							</li>
						{/each}
					</ul>
				{:else if !b.forgeries.length}<p class="soft">None came yet.</p>{/if}
			{:else}<Grants grants={data.grants} />{/if}
		{/snippet}
	</Tabs>
</main>

{#if edited}
	{#key edited.key}<Reach
			bind:open={() => Boolean(edited), (open) => open || (edited = undefined)}
			system={edited}
		/>{/key}
{/if}

<style>
	.pulse {
		margin-block: 0.5rem 1rem;
	}
	main {
		overflow-wrap: anywhere;
	}
	h2 {
		margin-top: 1.4rem;
	}
	.url,
	.trouble {
		display: block;
		font-weight: 400;
	}
	.warn {
		color: var(--buoy-text);
	}
	.deeds {
		white-space: nowrap;
	}
	.deeds .btn {
		padding-block: 0;
	}
	li {
		padding-block: 0.2rem;
	}
</style>
