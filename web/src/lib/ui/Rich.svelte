<!-- What an owner wrote with marks for strong words, lists and links. The server has made it HTML and let nothing else pass. -->
<script lang="ts">
	let { html }: { html: string } = $props();
</script>

<div class="rich">
	<!-- eslint-disable-next-line svelte/no-at-html-tags -- the server lets only harmless marks pass -->
	{@html html}
</div>

<style>
	.rich {
		display: grid;
		gap: 0.5rem;
	}
	.rich :global(:is(ul, ol)) {
		padding-left: 1.25rem;
		list-style: revert;
	}
	.rich :global(:is(h1, h2, h3, h4)) {
		font: 600 1rem var(--heading);
	}
	.rich :global(a) {
		color: var(--sound);
		text-decoration: underline;
	}
	.rich :global(code) {
		font-family: var(--mono);
	}
	.rich :global(:is(th, td)) {
		text-align: left;
		padding: 0.15rem 0.75rem 0.15rem 0;
		border-bottom: 1px solid var(--line);
	}
	.rich :global(blockquote) {
		border-left: 3px solid var(--line);
		padding-left: 0.6rem;
	}
</style>
