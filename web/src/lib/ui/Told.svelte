<!-- The place where it is told what was done. -->
<script lang="ts">
	import { Toast } from '@skeletonlabs/skeleton-svelte';
	import { toaster } from './toaster';
</script>

<Toast.Group {toaster} class="told">
	{#snippet children(toast)}
		<Toast {toast} class="toast">
			<Toast.Title>{toast.title}</Toast.Title>
			{#if toast.action}<Toast.ActionTrigger class="btn quiet" data-do="undo-told"
					>{toast.action.label}</Toast.ActionTrigger
				>{/if}
			<Toast.CloseTrigger class="btn quiet" aria-label="Close: {toast.title}">×</Toast.CloseTrigger>
		</Toast>
	{/snippet}
</Toast.Group>
