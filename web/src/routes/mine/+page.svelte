<!-- One's own list: what one has set oneself for a day. -->
<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { date } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const today = new Date().toLocaleDateString('sv-SE');
	const days = $derived([...new Set(data.list.entries.map((e) => e.day))]);
	type Entry = Schema['OwnEntryView'];
	const put = (e: Entry, day: string) =>
		unwrap(api.PUT('/api/own-list', { body: { request: e.request, task: e.task, day } }));
	async function off(e: Entry) {
		const params = { path: { request: e.request }, query: { task: e.task } };
		if (!(await act.run(() => unwrap(api.DELETE('/api/own-list/{request}', { params }))))) return;
		await invalidateAll();
		void tell('Taken off your list.', async () => {
			await put(e, e.day);
			await invalidateAll();
		});
	}
	async function move(e: Entry, day: string) {
		if (await act.run(() => put(e, day))) await invalidateAll();
	}
</script>

<svelte:head><title>My list · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<section>
		<h1>My list</h1>
		<p class="soft">What you have set yourself for a day. Only you see it.</p>
		<Trouble problem={act.problem} />
		{#each days as day (day)}
			<h2 class:past={day < today}>{day === today ? 'Today' : date(day)}{day < today ? ', past' : ''}</h2>
			<ul>
				{#each data.list.entries.filter((e) => e.day === day) as e (e.request + e.task)}
					<li data-own={e.task || 'request'} class:done={e.done}>
						<div>
							<a href={e.task ? `/deliver/${e.request}/${e.task}` : `/follow/${e.request}`}>{e.name}</a>
							<span class="soft small"
								><span class="mono">{e.reference}</span>
								{e.name === e.title ? '' : e.title}{e.done ? ' · done' : ''}</span
							>
						</div>
						<span class="buttons">
							{#if day < today && !e.done}<button
									class="btn plain small"
									onclick={() => move(e, today)}
									disabled={act.running}>For today</button
								>{/if}
							<button class="btn quiet small" onclick={() => off(e)} disabled={act.running}>Take off</button>
						</span>
					</li>
				{/each}
			</ul>
		{:else}
			<p class="soft">Nothing is on it. Open a task or a request, and put it on your list for a day.</p>
		{/each}
	</section>
</main>

<style>
	h2 {
		margin-top: 1rem;
	}
	.past {
		color: var(--buoy-text);
	}
	li {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.25rem 1rem;
		padding-block: 0.4rem;
		border-bottom: 1px solid var(--line);
	}
	.done a {
		text-decoration: line-through;
	}
</style>
