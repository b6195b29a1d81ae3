<!-- A desk whose address names nothing on it: it goes on to the first entry of its list, and what the list has read stays. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import { goto } from '$app/navigation';

	type Props = {
		desk: string;
		/** Address of the first entry, once there is one. */
		first: string | undefined;
		/** What stands there until then. */
		children: Snippet;
	};
	let { desk, first, children }: Props = $props();

	$effect(() => {
		if (first) void goto(first, { replaceState: true, state: { led: true } });
	});
</script>

<svelte:head><title>{desk} · Heptad</title></svelte:head>
{#if !first}{@render children()}{/if}
