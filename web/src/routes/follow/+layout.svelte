<!-- Follow: my requests by what they wait for, me first. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import { search } from '$lib/query';
	import { standing } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import Dial from '$lib/ui/Dial.svelte';
	import Entry from '$lib/ui/Entry.svelte';
	import Filters from '$lib/ui/Filters.svelte';
	import OneOf from '$lib/ui/OneOf.svelte';
	import Group from '$lib/ui/Group.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import Rows from '$lib/ui/Rows.svelte';
	import RequestMargin from '$lib/ui/RequestMargin.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import Likely from '$lib/ui/Likely.svelte';

	let { data, children } = $props();
	const act = new Act();
	const requests = new Paged(
		() => data.mine,
		(after) => unwrap(api.GET('/api/requests', { params: { query: { ...data.query, limit: 50, after } } }))
	);
	const names = {
		you: 'Waits for you',
		decision: 'Waits for a decision',
		work: 'Being worked on',
		asker: 'Waits for who asked',
		undoing: 'Being taken back',
		closed: 'Closed'
	} as const;
	const here = $derived(search(data.query));
	const all = $derived(data.mine.counts.reduce((sum, c) => sum + c.count, 0));
	const filtered = $derived(Boolean(data.query.words));
	const groups = $derived(
		data.mine.counts.map((c) => ({
			...c,
			entries: requests.entries.filter((r) => r.group === c.group)
		}))
	);
	function filter(change: Partial<typeof data.query>) {
		void goto(`${page.url.pathname}${search({ ...data.query, ...change })}`, {
			keepFocus: true,
			noScroll: true
		});
	}
	const shown = $derived(page.data.request);
</script>

<Ledger title="My requests" fold={page.url.pathname === '/follow' ? undefined : 'My requests'}>
	{#snippet index()}
		<p class="have">
			<a href="/follow/have" aria-current={page.url.pathname === '/follow/have' ? 'page' : undefined}
				>What I have</a
			>
			<a href="/mine">My list</a>
			<a href="/find">Find any request</a>
		</p>
		{#if data.confirm.entries.length}
			<Group name="You are asked to confirm" count={data.confirm.entries.length}>
				{#each data.confirm.entries as one (one.request + one.task)}
					<li class="asked">
						<strong>{one.name}</strong>
						<span class="soft small">{one.title}, for {one.asker}; {one.confirmed} so far</span>
						{#if one.instructions}<p class="small">{one.instructions}</p>{/if}
						<button
							class="btn plain"
							disabled={act.running}
							onclick={() =>
								act.run(() =>
									unwrap(
										api.POST('/api/tasks/{request}/{task}/confirm', {
											params: { path: { request: one.request, task: one.task } }
										})
									)
								)}>Confirm</button
						>
					</li>
				{/each}
			</Group>
			<Trouble problem={act.problem} />
		{/if}
		{#if all > 3 || here}
			<Filters
				label="Find among yours"
				words={data.query.words ?? ''}
				field="find-mine"
				onwords={(words) => filter({ words })}
			>
				<div class="halves">
					<OneOf
						label="Show"
						value={data.query.group}
						field="group"
						choices={[
							['', `all ${all}`],
							...data.mine.counts.map(
								(c) => [c.group, `${names[c.group].toLowerCase()}: ${c.count}`] as const
							)
						]}
						onpick={(group) => filter({ group: group || undefined })}
					/>
					<OneOf
						label="Order"
						value={data.query.sort}
						field="sort"
						choices={[
							['', 'changed last'],
							['likely', 'likely done first'],
							['due', 'due first'],
							['sent', 'sent first']
						]}
						onpick={(sort) => filter({ sort: sort || undefined })}
					/>
				</div>
			</Filters>
		{/if}
		{#each groups.filter((g) => g.entries.length) as group (group.group)}
			<Group name={names[group.group]} count={filtered ? group.entries.length : group.count}>
				<Rows entries={group.entries} key={(r) => r.id}>
					{#snippet row(request, line)}
						<li {...line}>
							<Entry
								href={request.status === 'draft'
									? `/ask/${request.offering}`
									: `/follow/${request.id}${here}`}
								here={page.params.request === request.id}
								title={request.title}
							>
								{#snippet mark()}<Dial
										stages={request.stages}
										yours={request.yours}
										closed={request.status === 'closed'}
									/>{/snippet}
								{#snippet note()}
									<span class="mono">{request.reference || 'Draft'}</span>
									{#if request.status === 'closed'}· {standing(
											request
										)}{:else if request.holders[0] && !request.yours}· {request.holders[0].name}{/if}
									{#if request.together}<br />of “{request.together}”{/if}
									{#if request.forecast}<br /><Likely forecast={request.forecast} />{/if}
								{/snippet}
							</Entry>
						</li>
					{/snippet}
				</Rows>
			</Group>
		{:else}
			<p class="none">
				{#if here}None of yours is like that. <a href={page.url.pathname}>Show all</a>{:else}You have asked
					for nothing yet. <a href="/ask">Ask for something.</a>{/if}
			</p>
		{/each}
		{#if requests.next}<More more={requests.more} />{/if}
	{/snippet}
	{#snippet sheet()}{#key page.params.request}{@render children()}{/key}{/snippet}
	{#snippet margin()}{#if shown}<RequestMargin
				request={shown}
				me={data.session.person?.id ?? ''}
			/>{/if}{/snippet}
</Ledger>

<style>
	.have {
		padding: 0 1.25rem 0.6rem;
		display: flex;
		flex-wrap: wrap;
		gap: 0.25rem 1.25rem;
	}
	.have a {
		white-space: nowrap;
	}
	.halves {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.35rem;
	}
	.asked {
		padding: 0.5rem 1rem;
		display: grid;
		gap: 0.25rem;
		justify-items: start;
	}
	.none {
		padding: 1rem;
	}
</style>
