<!-- Design: the services one owns and their offerings; a new one begins with its name. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { api, asked } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const portfolio = $derived(data.portfolio);
	let name = $state('');
	// svelte-ignore state_referenced_locally
	let service = $state(data.portfolio.services[0]?.key ?? '');

	async function create() {
		const made = await act.run(() => asked(api.POST('/api/design', { body: { name, service } })));
		if (made) await goto(`/design/${made.document.key}/purpose`);
	}
</script>

<svelte:head><title>Design · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<section>
		<h1>Your services</h1>
		{#each portfolio.services as one (one.key)}
			<h2>{one.name} <span class="soft small">{one.area}</span></h2>
			<ul class="offerings">
				{#each portfolio.offerings.filter((o) => o.service === one.key) as offering (offering.key)}
					<li>
						<a href="/design/{offering.key}/purpose">{offering.name || 'Without a name'}</a>
						<span class="soft">
							{#if offering.current}on Ask, version {offering.current}{/if}{#if offering.current && offering.draft},
							{/if}{#if offering.draft}draft of version {offering.draft}{/if}
						</span>
						<span class="soft small"><When time={offering.changedAt} /></span>
					</li>
				{:else}
					<li class="soft">Nothing is offered here yet.</li>
				{/each}
			</ul>
		{/each}
	</section>
	<form
		onsubmit={(e) => {
			e.preventDefault();
			void create();
		}}
	>
		<h2>A new offering</h2>
		<label
			>What can people ask for?<input
				class="input"
				bind:value={name}
				maxlength="120"
				required
				data-field="new-offering"
			/></label
		>
		<label
			>Service
			<select class="select" bind:value={service}>
				{#each portfolio.services as one (one.key)}<option value={one.key}>{one.area}: {one.name}</option
					>{/each}
			</select>
		</label>
		<Trouble problem={act.problem} />
		<button class="btn do" disabled={act.running || !name.trim()}>Begin</button>
		<p class="hint">Nobody sees it before you publish.</p>
	</form>
</main>

<style>
	main {
		max-width: 68rem;
		margin-inline: auto;
		padding: 1.75rem 1.5rem 3rem;
		display: grid;
		grid-template-columns: minmax(0, 1fr) 20rem;
		gap: 3rem;
		align-items: start;
		outline: none;
	}
	h2 {
		margin-top: 1.25rem;
	}
	.offerings {
		border-top: 2px solid var(--ink);
		margin-top: 0.3rem;
	}
	.offerings li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 15rem 7rem;
		gap: 1rem;
		padding: 0.5rem 0;
		border-bottom: 1px solid var(--line);
		align-items: baseline;
	}
	.offerings a {
		font-weight: 600;
	}
	form {
		background: var(--panel);
		padding: 1rem 1.1rem 1.25rem;
		border-top: 3px solid var(--ink);
		display: grid;
		gap: 0.75rem;
		justify-items: start;
	}
	form h2 {
		margin: 0;
	}
	form label .input,
	form label .select {
		font-weight: 400;
	}
	form label {
		display: grid;
		gap: 0.2rem;
		width: 100%;
		font-weight: 600;
		font-size: 0.875rem;
	}
	@media (max-width: 900px) {
		main {
			grid-template-columns: minmax(0, 1fr);
			gap: 1.5rem;
		}
		.offerings li {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
