<!-- The words about what is pointed at. It is loaded with the first. -->
<script lang="ts">
	import { Portal, Tooltip } from '@skeletonlabs/skeleton-svelte';
	import { pointed } from './tip.svelte';
</script>

{#if pointed.at}
	{@const { node, words } = pointed.at}
	{#key node}
		<Tooltip
			open
			positioning={{ placement: 'top', getAnchorRect: () => node.getBoundingClientRect() }}
			onOpenChange={(now) => now.open || (pointed.at = undefined)}
		>
			<Portal>
				<Tooltip.Positioner class="tip-place">
					<Tooltip.Content class="tip">{words}</Tooltip.Content>
				</Tooltip.Positioner>
			</Portal>
		</Tooltip>
	{/key}
{/if}

<style>
	:global(.tip-place) {
		z-index: 60 !important;
		pointer-events: none;
	}
	:global(.tip) {
		max-width: 22rem;
		padding: 0.25rem 0.55rem;
		background: var(--ink);
		color: var(--paper);
		font-size: 0.8125rem;
		line-height: 1.35;
	}
</style>
