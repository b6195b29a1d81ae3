<!-- The desk of what is measured, and its four places. -->
<script lang="ts">
	import { page } from '$app/state';
	let { data, children } = $props();
	const places = $derived(
		data.measures
			? [
					['/measure', 'Figures'],
					['/measure/goes', 'Where time goes'],
					['/measure/next', 'What to do next'],
					['/measure/boards', 'Boards'],
					['/measure/targets', 'Targets']
				]
			: [['/measure/boards', 'Boards']]
	);
	const here = $derived(page.url.pathname);
</script>

<nav class="places" aria-label="Measure" data-whole={data.desk.whole}>
	{#each places as [path, name] (path)}
		<a
			href={path}
			aria-current={here === path || (path !== '/measure' && path && here.startsWith(path))
				? 'page'
				: undefined}>{name}</a
		>
	{/each}
</nav>
{@render children()}

<style>
	:global(main.wide) {
		padding: 1rem 1.25rem 3rem;
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 0.9rem;
		min-width: 0;
	}
	.places {
		display: flex;
		flex-wrap: wrap;
		gap: 0.2rem 1.4rem;
		padding: 0.6rem 1.25rem 0;
	}
	a {
		padding: 0.15rem 0;
		text-decoration: none;
		color: var(--ink-soft);
	}
	a[aria-current] {
		color: var(--ink);
		font-weight: 600;
		border-bottom: 2px solid var(--sound);
	}
	@media print {
		.places {
			display: none;
		}
	}
</style>
