<!-- The bar above an index: words to find by, and what narrows and orders it. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	type Props = {
		/** What the words find among. */
		label: string;
		placeholder?: string;
		words: string;
		field: string;
		/** Narrows while one types, not only when one has ended. */
		live?: boolean;
		onwords: (words: string) => void;
		children: Snippet;
	};
	let { label, placeholder = label, words, field, live = false, onwords, children }: Props = $props();
</script>

<div class="filters">
	<input
		class="input"
		type="search"
		aria-label={label}
		{placeholder}
		value={words}
		oninput={(e) => live && onwords(e.currentTarget.value)}
		onchange={(e) => live || onwords(e.currentTarget.value)}
		data-field={field}
	/>
	{@render children()}
</div>

<style>
	.filters {
		display: grid;
		gap: 0.4rem;
		padding: 0 var(--inset, 1.25rem) 0.6rem;
	}
	.filters :global(.input),
	.filters :global(.select) {
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
		min-width: 0;
	}
</style>
