<!-- What came out of tasks for the reader alone. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Shown from './Shown.svelte';
	import When from './When.svelte';
	/** named: each says of which request it is. */
	let { secrets, named = false }: { secrets: Schema['SecretView'][]; named?: boolean } = $props();
	const read = (s: Schema['SecretView']) =>
		unwrap(
			api.POST('/api/requests/{request}/secrets/{task}/{output}/read', {
				params: { path: { request: s.request, task: s.task, output: s.output } }
			})
		);
</script>

<ul>
	{#each secrets as secret (secret.request + secret.task + secret.output)}
		<li data-secret={secret.output}>
			<span
				>{secret.name}{#if named}<span class="soft small">, {secret.title}</span>{/if}:
				<Shown name={secret.name} read={() => read(secret)} code /></span
			>
			<span class="soft small">Only you can see it, until <When time={secret.until} absolute />.</span>
		</li>
	{/each}
</ul>

<style>
	li {
		display: flex;
		align-items: baseline;
		justify-content: space-between;
		gap: 1rem;
		flex-wrap: wrap;
		padding-block: 0.4rem;
		border-bottom: 1px solid var(--line);
	}
</style>
