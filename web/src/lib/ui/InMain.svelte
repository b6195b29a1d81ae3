<!-- What opens over a page, inside of its landmark. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import { Portal } from '@skeletonlabs/skeleton-svelte';
	let { children }: { children: Snippet } = $props();
	const main = document.querySelector<HTMLElement>('main') ?? document.body;
</script>

<Portal target={main}>{@render children()}</Portal>
