<!-- The demo's way in: one signs in by choosing a person. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { entries }: { entries: Schema['DoorEntry'][] } = $props();
	const act = new Act();
	/** Once somebody has signed in, reading the page anew leads to where they wanted to be. */
	const enter = (entry: Schema['DoorEntry']) =>
		act.run(() => unwrap(api.POST('/api/session', { body: { person: entry.person } })));
</script>

<Trouble problem={act.problem} />
<ul>
	{#each entries as entry (entry.person)}
		<li>
			<button onclick={() => enter(entry)} disabled={act.running}>
				<strong>{entry.name}</strong>
				<span>{entry.title}</span>
				<em>{entry.why}</em>
			</button>
		</li>
	{/each}
</ul>

<style>
	ul {
		margin-top: 0.75rem;
		border-top: 2px solid var(--ink);
	}
	li {
		border-bottom: 1px solid var(--line);
	}
	button {
		display: grid;
		grid-template-columns: 11rem 12rem 1fr;
		gap: 0.75rem;
		width: 100%;
		text-align: left;
		padding: 0.7rem 0.5rem;
		align-items: baseline;
	}
	button:hover {
		background: var(--sound-wash);
	}
	em {
		color: var(--ink-soft);
	}
	@media (max-width: 900px) {
		button {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
