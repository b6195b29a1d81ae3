<!-- A dialog with its title; its frame is loaded with the first that opens. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	type Props = { open: boolean; title: string; wide?: boolean; name?: string; children: Snippet };
	let { open = $bindable(), title, wide = false, name, children }: Props = $props();
</script>

{#if open}
	{#await import('./DialogFrame.svelte') then { default: Frame }}
		<Frame bind:open {title} {wide} {name} {children} />
	{/await}
{/if}
