<!-- A part of an index: a heading with its count, and its entries. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	let { name, count, children }: { name: string; count: string | number; children: Snippet } = $props();
</script>

<h2>{name} <span class="mono">{count}</span></h2>
<ul>{@render children()}</ul>

<style>
	h2 {
		font-size: 0.8125rem;
		color: var(--ink-soft);
		padding: 0.9rem 1.25rem 0.25rem;
	}
</style>
