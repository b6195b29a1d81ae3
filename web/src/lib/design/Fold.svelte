<!-- A part of a task that folds away, with what stands in it now. -->
<script lang="ts">
	import { untrack, type Snippet } from 'svelte';
	type Props = { name: string; now: string; none: string; open?: boolean; children: Snippet };
	let { name, now, none, open = false, children }: Props = $props();
	let shown = $state(untrack(() => open));
</script>

<details bind:open={shown}>
	<summary class="caption">{name}: <span class="now" class:soft={!now}>{now || none}</span></summary>
	<div class="inner">{@render children()}</div>
</details>

<style>
	.inner {
		display: grid;
		gap: 0.7rem;
		padding: 0.5rem 0 0.6rem 1rem;
	}
	summary {
		cursor: pointer;
	}
	.now {
		font-weight: 400;
	}
</style>
