<!-- The mails that would have gone out of an installation for trying. -->
<script lang="ts">
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { api, unwrap } from '$lib/api/client';
	import { at } from '$lib/words';
	let { data } = $props();
	const act = new Act();
	let older = $state<typeof data.entries>([]);
	let ended = $state(false);
	const all = $derived([...data.entries, ...older]);
	async function more() {
		const before = all.at(-1)?.id ?? 0;
		const next = await unwrap(api.GET('/api/trial/mails', { params: { query: { before } } }));
		older = [...older, ...next.entries];
		ended = next.entries.length === 0;
	}
</script>

<svelte:head><title>Mails · Heptad</title></svelte:head>
<main id="sheet" class="page">
	<h1>Mails that would have gone out</h1>
	{#each all as mail (mail.id)}
		<details data-mail={mail.address}>
			<summary
				>{mail.subject}
				<span class="small soft">to {mail.name} &lt;{mail.address}&gt;, {at(mail.at)}</span></summary
			>
			<pre>{mail.body}</pre>
		</details>
	{:else}
		<p class="soft">None yet. What would be sent by mail stands here instead, and goes nowhere.</p>
	{/each}
	{#if all.length >= 50 && !ended}
		<button class="btn plain small" onclick={() => void act.run(more)}>Older ones</button>
	{/if}
	<Trouble problem={act.problem} />
</main>

<style>
	.page {
		max-width: 60rem;
		padding: 1.5rem;
	}
	details {
		border-bottom: 1px solid var(--line);
		padding: 0.35rem 0;
	}
	pre {
		white-space: pre-wrap;
		font: inherit;
		padding: 0.5rem 0 0.5rem 1rem;
		border-left: 3px solid var(--line);
	}
</style>
