<!-- Decide: what waits for my decision, the longest first; then what I decided. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import Entry from '$lib/ui/Entry.svelte';
	import Filters from '$lib/ui/Filters.svelte';
	import OneOf from '$lib/ui/OneOf.svelte';
	import Group from '$lib/ui/Group.svelte';
	import { at, list } from '$lib/words';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import Rows from '$lib/ui/Rows.svelte';
	import Around from '$lib/ui/Around.svelte';
	import Person from '$lib/ui/Person.svelte';
	import Price from '$lib/ui/Price.svelte';
	import When from '$lib/ui/When.svelte';

	let { data, children } = $props();
	const read = (state: 'waiting' | 'decided') => (after: string) =>
		unwrap(
			api.GET('/api/decisions', {
				params: { query: { state, limit: 50, after, words: data.words, sort: data.sort } }
			})
		);
	const sorts = {
		waiting: 'longest waiting first',
		due: 'due soonest first',
		cost: 'dearest first'
	} as const;
	/** Narrows the index, and keeps what is on the sheet. */
	async function narrow(words: string, sort: string) {
		const query = new URLSearchParams({ ...(words && { words }), ...(sort !== 'waiting' && { sort }) });
		await goto(`${page.url.pathname}?${query.toString()}`, {
			keepFocus: true,
			noScroll: true,
			replaceState: true
		});
	}
	const query = $derived(page.url.search);
	const waiting = new Paged(() => data.waiting, read('waiting'));
	const decided = new Paged(() => data.decided, read('decided'));
	const groups = $derived([
		{ name: 'Waits for you', of: waiting },
		{ name: 'You decided', of: decided }
	]);
	const sheetOf = $derived(page.data.decision as Schema['DecisionSheet'] | undefined);
</script>

<Ledger title="Decisions" fold={page.url.pathname === '/decide' ? undefined : 'All decisions'}>
	{#snippet index()}
		<Filters
			label="Find decisions"
			placeholder="Find by title, number or name"
			words={data.words}
			field="find-decisions"
			live
			onwords={(words) => void narrow(words, data.sort)}
		>
			<OneOf
				label="Order"
				value={data.sort}
				choices={Object.entries(sorts)}
				onpick={(sort) => void narrow(data.words, sort)}
			/>
			<p class="ways">
				<a
					href="/decide/several{query}"
					aria-current={page.url.pathname.endsWith('/several') ? 'page' : undefined}>Decide several at once</a
				>
				<a href="/decide/absence" aria-current={page.url.pathname.endsWith('/absence') ? 'page' : undefined}
					>When you are away</a
				>
			</p>
		</Filters>
		{#each groups as group (group.name)}
			<Group name={group.name} count={`${group.of.entries.length}${group.of.next ? '+' : ''}`}>
				<Rows entries={group.of.entries} key={(one) => one.request + one.rung}>
					{#snippet row(line, at)}
						<li {...at}>
							<Entry
								href="/decide/{line.request}/{line.rung}{query}"
								here={page.params.request === line.request && page.params.rung === line.rung}
								title={line.title}
							>
								{#snippet note()}
									{line.asker}{#if line.for}, for {line.for}{/if} · <Price price={line.price} /><br />
									{#if line.insteadOf && !line.decision}<b data-instead-of>in place of {line.insteadOf}</b>,
									{/if}
									{#if line.decision}{line.decision === 'approve'
											? 'Approved'
											: 'Declined'}{:else if data.sort === 'due' && line.due}due <When
											time={line.due}
										/>{:else}since <When time={line.since} />{/if}
								{/snippet}
							</Entry>
						</li>
					{/snippet}
				</Rows>
				{#if !group.of.entries.length}
					<li class="none soft">Nothing.</li>
				{/if}
			</Group>
			{#if group.of.next}<More more={group.of.more} />{/if}
		{/each}
	{/snippet}
	{#snippet sheet()}{#key `${page.params.request}/${page.params.rung}`}{@render children()}{/key}{/snippet}
	{#snippet margin()}
		{#if sheetOf}
			<h2 class="fact">Who asks</h2>
			<p>
				<Person
					lines
					name={sheetOf.asker}
					note={[sheetOf.askerTitle, sheetOf.askerPlace].filter(Boolean).join(', ')}
				/>
			</p>
			{#if sheetOf.for !== sheetOf.asker}
				<h2 class="fact">For whom</h2>
				<p><Person name={sheetOf.for} /></p>
			{/if}
			{#if sheetOf.due}
				<h2 class="fact">To be decided</h2>
				<p>until <When time={sheetOf.due} absolute /></p>
			{/if}
			<h2 class="fact">What follows on a yes</h2>
			<ol>
				{#each sheetOf.follows as task, i (i)}
					<li>
						{task.task}<br /><span class="soft small"
							>{[
								task.team,
								task.after.length && `after ${list.format(task.after)}`,
								task.likely && `likely ${at(task.likely)}`
							]
								.filter(Boolean)
								.join(', ')}</span
						>
					</li>
				{/each}
			</ol>
			<Around request={sheetOf.request} />
		{/if}
	{/snippet}
</Ledger>

<style>
	.ways {
		display: grid;
		font-size: 0.875rem;
	}
	.none {
		padding: 0.25rem 1rem;
	}
	li + li {
		margin-top: 0.3rem;
	}
</style>
