<script lang="ts">
	import { page } from '$app/state';
</script>

<svelte:head><title>Heptad</title></svelte:head>
<main id="sheet">
	<h1>
		{page.status === 404
			? 'There is nothing here for you'
			: page.status === 410
				? 'This has ended'
				: 'This did not work'}
	</h1>
	<p>{page.error?.message}</p>
	{#if page.error?.next}<p><a href={page.error.next}>To what takes its place</a></p>{/if}
	<p><a href="/ask">To Ask</a></p>
</main>

<style>
	main {
		max-width: 40rem;
		margin: 4rem auto;
		padding-inline: 1rem;
		display: grid;
		gap: 0.75rem;
	}
</style>
