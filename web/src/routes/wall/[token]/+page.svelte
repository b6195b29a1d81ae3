<!-- The wall: a board on a whole screen, a page after the other, live, to be read from five metres. -->
<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import PageShown from '$lib/measure/PageShown.svelte';
	import { heading } from '$lib/measure/shows';
	import { at } from '$lib/words';

	let { data } = $props();
	const wall = $derived(data.wall);
	let turn = $state(0);
	let still = $state(false);
	const pages = $derived(wall?.pages ?? []);
	const now = $derived(pages[turn % Math.max(1, pages.length)]);
	$effect(() => {
		const seconds = wall?.turns ?? 20;
		if (still) return;
		const next = setInterval(() => (turn += 1), seconds * 1000);
		return () => clearInterval(next);
	});
	$effect(() => {
		const fresh = setInterval(() => void invalidateAll(), 10_000);
		return () => clearInterval(fresh);
	});
	function pressed(e: KeyboardEvent) {
		if (e.key === 'ArrowRight') turn += 1;
		else if (e.key === 'ArrowLeft') turn += pages.length - 1;
		else if (e.key === ' ') still = !still;
		else return;
		e.preventDefault();
	}
	let height = $state(600);
</script>

<svelte:window onkeydown={pressed} bind:innerHeight={height} />
<svelte:head><title>{wall?.title ?? 'Nothing is shown here'} · Heptad</title></svelte:head>
<main class="wall" id="sheet" tabindex="-1">
	{#if wall}
		<header>
			<h1>{wall.title}</h1>
			<p>{wall.organisation}</p>
		</header>
		{#if wall.stopped}<p role="alert">{wall.stopped}</p>{/if}
		{#if now}
			<section data-wall-page={turn % pages.length} aria-live="off">
				<h2>{heading(now)}</h2>
				<div class="shown">
					<PageShown
						page={now}
						figures={wall.figures}
						currency={wall.currency}
						height={Math.max(260, height - 330)}
					/>
				</div>
			</section>
		{/if}
		<footer>
			<span>As of {at(wall.asOf)}</span>
			<span class="dots" aria-hidden="true"
				>{#each pages.keys() as i (i)}<i class:on={i === turn % pages.length}></i>{/each}</span
			>
			<span>{still ? 'stands still: space goes on' : ''}</span>
		</footer>
	{:else}
		<h1>Nothing is shown here</h1>
		<p>The link is not known, or was taken back. {data.gone}</p>
	{/if}
</main>

<style>
	.wall {
		min-height: 100dvh;
		padding: 2rem 3rem 1.2rem;
		display: grid;
		grid-template-rows: auto 1fr auto;
		gap: 1.2rem;
		font-size: 1.375rem;
	}
	header {
		display: flex;
		justify-content: space-between;
		align-items: baseline;
		gap: 2rem;
		border-bottom: 3px solid var(--ink);
	}
	h1 {
		font-size: 2.4rem;
	}
	h2 {
		font-size: 2rem;
	}
	section {
		min-width: 0;
	}
	.shown {
		margin-top: 0.6rem;
	}
	.shown :global(.small) {
		font-size: 1.25rem;
	}
	.shown :global(.as-table) {
		display: none;
	}
	.shown :global(table) {
		font-size: 1.5rem;
	}
	.shown :global(th),
	.shown :global(th a) {
		font-size: 1.5rem;
	}
	.shown :global(.tick) {
		font-size: 1.1rem;
	}
	.shown :global(a) {
		pointer-events: none;
	}
	.shown :global(.bar) {
		height: 1.4rem;
	}
	.shown :global(.figures) {
		grid-template-columns: repeat(auto-fit, minmax(15rem, 1fr));
		font-size: 1.6rem;
	}
	footer {
		display: flex;
		justify-content: space-between;
		font-size: 1.125rem;
		color: var(--ink-soft);
	}
	.dots i {
		display: inline-block;
		width: 1.4rem;
		height: 0.5rem;
		margin-inline: 0.15rem;
		background: var(--line);
	}
	.dots i.on {
		background: var(--sound);
	}
	@media (max-width: 40rem) {
		.wall {
			padding: 1rem;
			font-size: 1rem;
		}
		h1,
		h2 {
			font-size: 1.25rem;
		}
		.shown :global(:is(table, th, th a)) {
			font-size: 0.9375rem;
		}
		.shown :global(.figures) {
			grid-template-columns: repeat(2, minmax(0, 1fr));
			font-size: 1rem;
		}
	}
</style>
