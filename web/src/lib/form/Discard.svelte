<!-- Discards a draft, after asking. -->
<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { api, unwrap } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import type { Draft } from './draft.svelte';

	let { draft, act }: { draft: Draft; act: Act } = $props();
	const form = $derived(draft.form);
	let discarding = $state(false);
	async function discard() {
		discarding = false;
		const id = form.draft;
		draft.forget();
		if (id)
			await act.run(() =>
				unwrap(api.POST('/api/requests/{request}/discard', { params: { path: { request: id } } }))
			);
		await goto('/ask');
		await invalidateAll();
	}
</script>

<button type="button" class="btn quiet discard" onclick={() => (discarding = true)}>Discard draft</button>
<Dialog bind:open={discarding} title="Discard what you typed?">
	<p>The answers to “{form.name}” are gone for good.</p>
	<div class="buttons">
		<button class="btn do" onclick={discard}>Discard</button>
		<button class="btn plain" onclick={() => (discarding = false)}>Keep it</button>
	</div>
</Dialog>

<style>
	.discard {
		margin-left: auto;
		font-weight: 400;
		font-size: 0.875rem;
	}
	:global(.overlay) p {
		margin-block: 0.5rem 1rem;
	}
</style>
