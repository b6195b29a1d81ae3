<!-- The door: on the demo one signs in by choosing a person. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();

	/** Once somebody has signed in, reading the page anew leads to where they wanted to be. */
	const enter = (entry: Schema['DoorEntry']) =>
		act.run(() => unwrap(api.POST('/api/session', { body: { person: entry.person } })));
</script>

<svelte:head><title>Sign in · Heptad</title></svelte:head>
<main>
	<div class="name">
		<svg viewBox="0 0 100 100" width="120" height="120" aria-hidden="true">
			<path d="M50 10 81.3 25.1 89 58.9 67.4 86H32.6L11 58.9 18.7 25.1Z" />
			<path class="one" d="M50 10 81.3 25.1" />
		</svg>
		<h1>Heptad</h1>
		<p>Ask any department for anything, and see at any moment with whom it lies.</p>
		{#if data.door}<p class="soft">
				{data.door.company} is made up. Everything you do stays on this computer.
			</p>{/if}
	</div>
	<section aria-labelledby="who">
		<h2 id="who">Who are you today?</h2>
		{#if page.url.searchParams.has('back')}
			<p class="ended">
				You are not signed in, or not any more. Sign in, and you come back to where you were; what you typed
				is kept.
			</p>
		{/if}
		<Trouble problem={act.problem} />
		<ul>
			{#each data.door?.entries ?? [] as entry (entry.person)}
				<li>
					<button onclick={() => enter(entry)} disabled={act.running}>
						<strong>{entry.name}</strong>
						<span>{entry.title}</span>
						<em>{entry.why}</em>
					</button>
				</li>
			{/each}
		</ul>
	</section>
</main>

<style>
	main {
		min-height: 100vh;
		display: grid;
		grid-template-columns: minmax(16rem, 22rem) minmax(0, 44rem);
		gap: 4rem;
		justify-content: center;
		align-items: center;
		padding: 2rem 1.5rem;
	}
	.name {
		display: grid;
		gap: 0.75rem;
	}
	.name h1 {
		font-size: 3rem;
	}
	path {
		fill: none;
		stroke: var(--sound);
		stroke-width: 9;
		stroke-linejoin: round;
	}
	.one {
		stroke: var(--buoy);
		stroke-linecap: round;
	}
	.ended {
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
		margin-block: 0.5rem;
	}
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
		main {
			grid-template-columns: minmax(0, 1fr);
			gap: 1.5rem;
			align-items: start;
		}
		button {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
