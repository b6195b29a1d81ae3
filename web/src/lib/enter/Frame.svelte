<!-- A page before anybody has signed in: the mark and the name at the left, what there is to do at the right. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { Schema } from '$lib/api/client';
	type Props = { look: Schema['Look']; title: string; under?: Snippet; children: Snippet };
	let { look, title, under, children }: Props = $props();
</script>

<svelte:head><title>{title} · {look.name || 'Heptad'}</title></svelte:head>
<main>
	<div class="name">
		{#if look.emblem}<img src={look.emblem} alt="" width="120" />{:else}
			<svg viewBox="0 0 100 100" width="120" height="120" aria-hidden="true">
				<path d="M50 10 81.3 25.1 89 58.9 67.4 86H32.6L11 58.9 18.7 25.1Z" />
				<path class="one" d="M50 10 81.3 25.1" />
			</svg>
		{/if}
		<p class="called">{look.name || 'Heptad'}</p>
		<p>Ask any department for anything, and see at any moment with whom it lies.</p>
		{@render under?.()}
	</div>
	<section aria-labelledby="title">
		<h1 id="title">{title}</h1>
		{@render children()}
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
	.called {
		font: 600 2.5rem / 1.1 var(--heading);
		letter-spacing: -0.01em;
		overflow-wrap: anywhere;
	}
	img {
		max-height: 8rem;
		object-fit: contain;
		object-position: left;
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
	section :global(form) {
		display: grid;
		gap: 0.9rem;
		max-width: 26rem;
		margin-top: 1rem;
	}
	section :global(.buttons) {
		align-items: center;
	}
	@media (max-width: 900px) {
		main {
			grid-template-columns: minmax(0, 1fr);
			gap: 1.5rem;
			align-content: start;
		}
		.name :is(svg, img) {
			width: 4rem;
			height: 4rem;
		}
	}
</style>
