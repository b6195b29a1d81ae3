<!-- What somebody finds and may ask for, and why. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';

	let { person }: { person: string } = $props();
	let all = $state.raw<Schema['Reachable'][] | undefined>();
	let words = $state('');
	async function read() {
		all ??= (await unwrap(api.GET('/api/people/{person}/offerings', { params: { path: { person } } })))
			.entries;
	}
	const listed = $derived(
		(all ?? []).filter((r) => `${r.name} ${r.service}`.toLowerCase().includes(words.toLowerCase()))
	);
	const count = $derived(all?.filter((r) => r.asks).length ?? 0);
</script>

<details ontoggle={(e) => e.currentTarget.open && void read()} data-reached>
	<summary
		>What they can ask for{#if all}: {count} of {all.length} offerings{/if}</summary
	>
	{#if all}
		<input class="input" bind:value={words} placeholder="Find an offering" aria-label="Find an offering" />
		<ul>
			{#each listed as r (r.key)}
				<li data-reach={r.key} data-asks={r.asks ?? false}>
					<span class="verdict">{r.asks ? 'asks' : r.sees ? 'sees' : 'no'}</span>
					<span
						>{r.name} <span class="soft small">{r.service}</span><br /><span class="small">{r.reason}</span
						></span
					>
				</li>
			{:else}<li class="soft">Nothing.</li>{/each}
		</ul>
	{/if}
</details>

<style>
	summary {
		cursor: pointer;
		font-weight: 600;
		margin-top: 1rem;
	}
	li {
		display: grid;
		grid-template-columns: 3rem minmax(0, 1fr);
		padding: 0.25rem 0;
		border-bottom: 1px solid var(--line);
	}
	.verdict {
		font-family: var(--mono);
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
</style>
