<!-- A board as it was on a day. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import PageShown from '$lib/measure/PageShown.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { shortDate } from '$lib/words';

	let { data } = $props();
	const c = $derived(data.copy);
	const act = new Act();
	async function drop() {
		const { board, copy } = page.params as { board: string; copy: string };
		const gone = await act.run(async () => {
			await unwrap(api.DELETE('/api/boards/{board}/copies/{copy}', { params: { path: { board, copy } } }));
			return true;
		});
		if (gone) await goto(`/measure/boards/${board}`);
	}
</script>

<svelte:head><title>{c.board.title} · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<header>
		<h1>{c.board.title}, as of the end of {shortDate(data.line?.day ?? '')}</h1>
		<p class="soft small">
			A copy: its numbers stay. <a href="/measure/boards/{c.id}">The board as it is now</a>
			{#if c.own}<button class="btn quiet" onclick={drop} disabled={act.running} data-do="drop-copy"
					>Throw the copy away</button
				>{/if}
		</p>
	</header>
	<Trouble problem={act.problem} />
	{#each c.pages as p, i (i)}
		<section aria-label={p.title}>
			<h2>{p.title}</h2>
			<PageShown page={p} figures={c.figures} currency={c.currency} href="/measure/boards/{c.id}" />
		</section>
	{/each}
</main>

<style>
	.wide {
		gap: 1.4rem;
		max-width: 76rem;
	}
</style>
