<!-- The reason of an automatic fact, over what stands there. It opens as it comes. -->
<script lang="ts">
	import { Popover } from '@skeletonlabs/skeleton-svelte';
	import InMain from './InMain.svelte';
	let { reason, of }: { reason: string; of: string } = $props();
</script>

<Popover defaultOpen positioning={{ placement: 'bottom-start' }}>
	<Popover.Trigger class="why"><span class="sr-only">{of}: </span>why</Popover.Trigger>
	<InMain>
		<Popover.Positioner class="why-place">
			<Popover.Content class="why-card" aria-label="Why: {of}">
				<Popover.Description>{reason}</Popover.Description>
			</Popover.Content>
		</Popover.Positioner>
	</InMain>
</Popover>

<style>
	:global(.why-place) {
		z-index: 45 !important;
	}
	:global(.why-card) {
		max-width: 40ch;
		padding: 0.5rem 0.75rem;
		border: 0;
		border-left: 4px solid var(--sound);
		border-radius: 0;
		background: var(--panel);
		color: var(--ink);
		font-size: 0.875rem;
		box-shadow: 0 4px 14px rgb(19 38 43 / 0.25);
		outline: none;
	}
</style>
