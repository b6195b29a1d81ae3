<!-- The frame of a dialog. Keys and focus are Skeleton's; what lies behind is out of reach. -->
<script lang="ts" module>
	let opened = 0;
	/** What lies behind a dialog is out of reach of readers as well. */
	function behind(more: 1 | -1) {
		opened += more;
		document.querySelector('.root')?.toggleAttribute('inert', opened > 0);
	}
</script>

<script lang="ts">
	import type { Snippet } from 'svelte';
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	type Props = { open: boolean; title: string; wide: boolean; name?: string; children: Snippet };
	let { open = $bindable(), title, wide, name, children }: Props = $props();

	$effect(() => {
		if (!open) return;
		behind(1);
		return () => behind(-1);
	});
</script>

{#if open}
	<Dialog {open} onOpenChange={(now) => (open = now.open)} closeOnInteractOutside={false}>
		<Portal>
			<Dialog.Backdrop class="dialog-behind" />
			<Dialog.Positioner class="dialog-place">
				<Dialog.Content class="overlay {wide ? 'wide' : ''}" data-dialog={name}>
					<Dialog.Title class="dialog-title">{title}</Dialog.Title>
					{@render children()}
				</Dialog.Content>
			</Dialog.Positioner>
		</Portal>
	</Dialog>
{/if}
