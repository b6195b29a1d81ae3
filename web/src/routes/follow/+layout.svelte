<!-- Follow: my requests by what they wait for, me first. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, asked } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import { standing } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import Dial from '$lib/ui/Dial.svelte';
	import Entry from '$lib/ui/Entry.svelte';
	import Group from '$lib/ui/Group.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import RequestMargin from '$lib/ui/RequestMargin.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data, children } = $props();
	const act = new Act();
	const requests = new Paged(
		() => data.mine,
		(after) => asked(api.GET('/api/requests', { params: { query: { limit: 50, after } } }))
	);
	const groups = $derived([
		{ name: 'Waits for you', entries: requests.entries.filter((r) => r.yours) },
		{ name: 'Under way', entries: requests.entries.filter((r) => !r.yours && r.status !== 'closed') },
		{ name: 'Closed', entries: requests.entries.filter((r) => r.status === 'closed') }
	]);
	const shown = $derived(page.data.request);
</script>

<Ledger title="My requests">
	{#snippet index()}
		<p class="have">
			<a href="/follow/have" aria-current={page.url.pathname === '/follow/have' ? 'page' : undefined}
				>What I have</a
			>
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
									asked(
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
		{#each groups.filter((g) => g.entries.length) as group (group.name)}
			<Group name={group.name} count={group.entries.length}>
				{#each group.entries as request (request.id)}
					<li>
						<Entry
							href={request.status === 'draft' ? `/ask/${request.offering}` : `/follow/${request.id}`}
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
								{#if request.forecast}<br />likely <When
										time={request.forecast.likely}
										absolute
									/>{#if (request.forecast.slack ?? 0) < 0}, <b class="late">too late</b>{/if}{/if}
							{/snippet}
						</Entry>
					</li>
				{/each}
			</Group>
		{:else}
			<p class="none">You have asked for nothing yet. <a href="/ask">Ask for something.</a></p>
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
	}
	.asked {
		padding: 0.5rem 1rem;
		display: grid;
		gap: 0.25rem;
		justify-items: start;
	}
	.late {
		color: var(--buoy-text);
	}
	.none {
		padding: 1rem;
	}
</style>
