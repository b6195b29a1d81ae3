<!-- The boards that one has made, and those that others share. -->
<script lang="ts">
	let { data } = $props();
	const own = $derived(data.boards.filter((b) => b.own));
	const others = $derived(data.boards.filter((b) => !b.own));
</script>

<svelte:head><title>Boards · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<h1>Boards</h1>
	{#if data.measures}
		<p class="soft">
			A board keeps what you look at, in your order, for you and for others. Look at something under <a
				href="/measure">Figures</a
			>
			and put it on a board.
		</p>
	{/if}
	{#snippet lines(boards: typeof data.boards)}
		<ul>
			{#each boards as b (b.id)}
				<li>
					<a href="/measure/boards/{b.id}" data-board={b.title}><strong>{b.title}</strong></a>
					<span class="soft small"
						>{[b.own ? '' : `of ${b.by}`, b.wall ? 'on the wall' : '', b.stopped]
							.filter(Boolean)
							.join(', ')}</span
					>
				</li>
			{/each}
		</ul>
	{/snippet}
	{#if own.length}<h2>Yours</h2>
		{@render lines(own)}{/if}
	{#if others.length}<h2>Shared with you</h2>
		{@render lines(others)}{/if}
	{#if data.boards.length === 0}<p>There is none yet.</p>{/if}
</main>

<style>
	.wide {
		gap: 0.7rem;
		max-width: 50rem;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		gap: 0.2rem 0.8rem;
		align-items: baseline;
		padding: 0.35rem 0;
		border-bottom: 1px solid var(--line);
	}
</style>
