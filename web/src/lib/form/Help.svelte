<!-- Help beside a form. -->
<script lang="ts">
	import Rich from '$lib/ui/Rich.svelte';
	import type { Schema } from '$lib/api/client';
	/** opened: the title of the article that led here. */
	let { articles, opened }: { articles: Schema['OfferingArticle'][]; opened?: string } = $props();
</script>

{#if articles.length}
	<section class="help" aria-label="Help">
		<h2>Help</h2>
		{#each articles as article, i (i)}
			<details open={article.title === opened}>
				<summary>{article.title}</summary>
				<Rich html={article.text} />
			</details>
		{/each}
	</section>
{/if}

<style>
	.help {
		margin-top: 1.25rem;
		padding-inline: 1rem;
	}
	.help summary {
		color: var(--sound);
		text-decoration: underline;
		text-underline-offset: 3px;
		padding-block: 0.2rem;
	}
	.help details {
		font-size: 0.875rem;
	}
</style>
