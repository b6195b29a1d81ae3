<!-- Parts of a screen of which one is in sight, and stands in the address. -->
<script lang="ts" generics="Key extends string">
	import type { Snippet } from 'svelte';
	import { Tabs } from '@skeletonlabs/skeleton-svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	type Props = {
		label: string;
		/** The first stands open unless the address says another. */
		parts: readonly (readonly [Key, string])[];
		children: Snippet<[Key]>;
	};
	let { label, parts, children }: Props = $props();
	const here = $derived((parts.find(([key]) => key === page.url.searchParams.get('part')) ?? parts[0])?.[0]);

	function turn(key: string) {
		const url = new URL(page.url);
		url.searchParams.set('part', key);
		void goto(url, { replaceState: true, noScroll: true, keepFocus: true });
	}
</script>

<Tabs value={here} onValueChange={(now) => turn(now.value)} class="tabs">
	<Tabs.List class="tabs-list" aria-label={label}>
		{#each parts as [key, words] (key)}
			<Tabs.Trigger value={key} class="tab" data-part-of={key}>{words}</Tabs.Trigger>
		{/each}
	</Tabs.List>
	{#each parts as [key] (key)}
		<Tabs.Content value={key}>
			{#if key === here}{@render children(key)}{/if}
		</Tabs.Content>
	{/each}
</Tabs>

<style>
	:global(.tabs-list) {
		gap: 0;
		margin: 0.8rem 0 0.4rem !important;
		padding: 0 !important;
		border-bottom: 2px solid var(--ink) !important;
		flex-wrap: wrap;
	}
	:global(.tab) {
		padding: 0.35rem 0.9rem;
		border-radius: 0;
		border: solid transparent;
		border-width: 4px 0 0;
		color: var(--ink);
		font-weight: 400;
		background: none !important;
	}
	:global(.tab:hover) {
		border-top-color: var(--fog);
	}
	:global(.tab[data-selected]) {
		border-top-color: var(--sound);
		font-weight: 600;
		background: var(--sound-wash) !important;
	}
</style>
