<!-- Bundles: audiences that are kept once and used by many offerings. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import { ask } from '$lib/query';
	import BundleSheet from '$lib/design/BundleSheet.svelte';
	import WhoIsIn from '$lib/design/WhoIsIn.svelte';

	let { data } = $props();
	const bundle = $derived(data.bundle);
	const survey = (words: string, out: boolean, after: number) =>
		unwrap(
			api.GET('/api/bundles/{bundle}', {
				params: { path: { bundle: bundle?.key ?? '' }, query: { words, out, after } }
			})
		).then((b) => b.survey);
	/** Offerings that name it, each once: what can be asked for before its draft. */
	const uses = $derived(
		(data.opened?.uses ?? []).filter((u, i, all) => all.findIndex((o) => o.key === u.key) === i)
	);
</script>

<svelte:head><title>Bundles · Heptad</title></svelte:head>
<div class="bundles">
	<nav aria-label="Bundles">
		<p class="eyebrow">
			<a href={data.all.yours ? '/manage' : '/design'}>{data.all.yours ? 'Manage' : 'Design'}</a>
		</p>
		<ul>
			{#each data.all.entries as b (b.key)}
				<li>
					<a
						href="/design/bundles?key={b.key}"
						aria-current={!data.fresh && b.key === bundle?.key ? 'page' : undefined}
						>{b.name} <span class="soft small">{b.offers || ''}</span></a
					>
				</li>
			{/each}
		</ul>
		{#if data.all.yours}<button
				class="btn plain"
				onclick={() => void ask(page.url, { new: 'yes' })}
				data-do="new-bundle">A new bundle</button
			>{/if}
	</nav>
	<main id="sheet" tabindex="-1">
		{#if data.fresh}
			<h1>A new bundle</h1>
			<p class="soft">A named audience, kept once. Offerings name it; whoever is in it may ask for them.</p>
			<BundleSheet all={data.all} />
		{:else if bundle && data.opened}
			<h1>{bundle.name}</h1>
			{#if !data.all.yours}<p>{bundle.text}</p>{/if}
			{#key bundle.key + bundle.rule}
				{#if data.all.yours}<BundleSheet
						all={data.all}
						{bundle}
						sentence={data.opened.sentence}
						uses={uses.length}
					/>
				{:else}<p>In it is who fits: {bundle.words || 'nobody yet'}.</p>{/if}
				<div class="two">
					<WhoIsIn of={bundle.key + bundle.rule} ask={survey}>
						{#snippet heading()}Who is in{/snippet}
					</WhoIsIn>
					<section aria-label="Offerings that name it">
						<h2>Offerings that name it</h2>
						<ul data-uses={uses.length}>
							{#each uses as u (u.key)}
								<li>{u.name} <span class="soft small">{u.service}{u.draft ? ', in a draft' : ''}</span></li>
							{:else}
								<li class="soft">None yet. An offering names it on its side <em>audience</em>.</li>
							{/each}
						</ul>
					</section>
				</div>
			{/key}
		{:else}
			<h1>Bundles</h1>
			<p class="soft">
				A bundle is a named audience, such as everybody afloat. It is kept once, and offerings name it.
				{data.all.yours ? 'Make the first one.' : 'There is none yet: administrators make them.'}
			</p>
		{/if}
	</main>
</div>

<style>
	.bundles {
		display: grid;
		grid-template-columns: 14rem minmax(0, 1fr);
		min-height: calc(100vh - 3rem);
	}
	nav {
		border-right: 1px solid var(--line);
		padding-block: 1rem;
	}
	nav .eyebrow,
	nav .btn {
		margin-inline: 1rem;
	}
	nav ul {
		margin-block: 0.5rem;
	}
	nav li a {
		display: flex;
		justify-content: space-between;
		gap: 0.5rem;
		padding: 0.3rem 1rem 0.3rem calc(1rem - 4px);
		color: var(--ink);
		border-left: 4px solid transparent;
	}
	nav li a:hover {
		background: var(--sound-wash);
	}
	nav li a[aria-current] {
		border-left-color: var(--sound);
		background: var(--panel);
		font-weight: 600;
	}
	main {
		padding: 1.25rem 1.75rem 3rem;
		margin: 0;
		max-width: 68rem;
	}
	.two {
		display: grid;
		grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
		gap: 2.5rem;
		margin-top: 1.5rem;
	}
	.two section {
		border-top: 2px solid var(--ink);
		padding-top: 0.75rem;
	}
	.two section li {
		padding: 0.2rem 0;
		border-bottom: 1px solid var(--line);
	}
	@media (max-width: 900px) {
		.bundles,
		.two {
			grid-template-columns: minmax(0, 1fr);
			align-content: start;
			gap: 0.5rem;
		}
		nav {
			border: 0;
		}
		main {
			padding: 1rem;
		}
	}
</style>
