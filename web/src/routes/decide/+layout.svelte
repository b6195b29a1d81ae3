<!-- Decide: what waits for my decision, the longest first; then what I decided. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, asked, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import Entry from '$lib/ui/Entry.svelte';
	import Group from '$lib/ui/Group.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import More from '$lib/ui/More.svelte';
	import Price from '$lib/ui/Price.svelte';
	import When from '$lib/ui/When.svelte';

	let { data, children } = $props();
	const read = (state: 'waiting' | 'decided') => (after: string) =>
		asked(api.GET('/api/decisions', { params: { query: { state, limit: 50, after } } }));
	const waiting = new Paged(() => data.waiting, read('waiting'));
	const decided = new Paged(() => data.decided, read('decided'));
	const groups = $derived([
		{ name: 'Waits for you', of: waiting },
		{ name: 'You decided', of: decided }
	]);
	const sheetOf = $derived(page.data.decision as Schema['DecisionSheet'] | undefined);
</script>

<Ledger title="Decisions">
	{#snippet index()}
		{#each groups as group (group.name)}
			<Group name={group.name} count={`${group.of.entries.length}${group.of.next ? '+' : ''}`}>
				{#each group.of.entries as line (line.request + line.rung)}
					<li>
						<Entry
							href="/decide/{line.request}/{line.rung}"
							here={page.params.request === line.request && page.params.rung === line.rung}
							title={line.title}
						>
							{#snippet note()}
								{line.asker} · <Price price={line.price} /><br />
								{#if line.decision}{line.decision === 'approve' ? 'Approved' : 'Declined'}{:else}since <When
										time={line.since}
									/>{/if}
							{/snippet}
						</Entry>
					</li>
				{:else}
					<li class="none soft">Nothing.</li>
				{/each}
			</Group>
			{#if group.of.next}<More more={group.of.more} />{/if}
		{/each}
	{/snippet}
	{#snippet sheet()}{#key `${page.params.request}/${page.params.rung}`}{@render children()}{/key}{/snippet}
	{#snippet margin()}
		{#if sheetOf}
			<h2 class="fact">Who asks</h2>
			<p>
				<strong>{sheetOf.asker}</strong><br />{sheetOf.askerTitle}<br /><span class="soft"
					>{sheetOf.askerPlace}</span
				>
			</p>
			<h2 class="fact">What follows on a yes</h2>
			<ol>
				{#each sheetOf.follows as task, i (i)}
					<li>
						{task.task}<br /><span class="soft small"
							>{task.team}{#if task.after.length}, after {task.after.join(' and ')}{/if}</span
						>
					</li>
				{/each}
			</ol>
		{/if}
	{/snippet}
</Ledger>

<style>
	.none {
		padding: 0.25rem 1rem;
	}
	li + li {
		margin-top: 0.3rem;
	}
</style>
