<!-- The heading of a part of the promise's side, ruled off from what is above. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	let { children }: { children: Snippet } = $props();
</script>

<h2>{@render children()}</h2>

<style>
	h2 {
		border-top: 2px solid var(--ink);
		margin-top: 0.75rem;
		padding-top: 0.6rem;
	}
</style>
