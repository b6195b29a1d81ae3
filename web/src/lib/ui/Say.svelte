<!-- A word on a request, for readers that one chooses. -->
<script module lang="ts">
	/** Words typed so far, by request. */
	const words = $state<Record<string, string>>({});

	/** Who reads a word or a file, as the API wants it: to, or the team of a task. */
	export const addressed = (readers: string) =>
		readers.startsWith('task/')
			? { to: 'task' as const, task: readers.slice(5) }
			: { to: (readers || undefined) as 'request' | 'staff' | undefined };
</script>

<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';
	type Props = {
		request: string;
		/** Of the request: their teams can be written to. */
		tasks?: Schema['TaskView'][];
		/** Whom it is usually for, in words. */
		usual?: string;
		readers?: string;
	};
	let { request, tasks = [], usual = 'those who have it in hand', readers = $bindable('') }: Props = $props();
	const act = new Act();
	const open = $derived(tasks.filter((t) => t.team && !['skipped', 'stopped', 'undone'].includes(t.state)));

	async function say(e: SubmitEvent) {
		e.preventDefault();
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/words', {
					params: { path: { request } },
					body: { text: words[request] ?? '', ...addressed(readers) }
				})
			)
		);
		if (done) delete words[request];
	}
</script>

<form onsubmit={say}>
	<input
		class="input"
		aria-label="Write on this request"
		placeholder={readers ? 'Write a word' : `Write to ${usual}`}
		bind:value={words[request]}
		maxlength="2000"
		data-field="word"
	/>
	<select class="select small" aria-label="Who reads it" bind:value={readers} data-field="readers">
		<option value="">read by {usual}</option>
		<option value="request">read on the request only: the asker's side, home lead, owner</option>
		{#each open as t (t.key)}<option value="task/{t.key}">read by {t.team}, for {t.name}</option>{/each}
		{#if tasks.length}<option value="staff">read by all teams at work</option>{/if}
	</select>
	<button class="btn plain" disabled={act.running || !words[request]?.trim()}>Write</button>
</form>
<Trouble problem={act.problem} />

<style>
	form {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		padding-block: 0.4rem;
	}
	.input {
		flex: 1 1 15rem;
		width: auto;
	}
	.select {
		flex: 0 1 17.5rem;
		width: auto;
		min-width: 0;
	}
</style>
