<!-- Staff cancel a request, with a reason. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { list } from '$lib/words';

	type Props = { open: boolean; request: Schema['RequestSheet']; act: Act; ends: string[] };
	let { open = $bindable(), request, act, ends }: Props = $props();
	const path = $derived({ path: { request: request.id } });
	let reason = $state('');
	let chosen = $state('');
	const ready = $derived(request.reasons.length ? chosen !== '' : reason.trim() !== '');
	async function cancel() {
		const done = await act.run(() =>
			unwrap(api.POST('/api/requests/{request}/cancel', { params: path, body: { reason, chosen } }))
		);
		if (done) open = false;
	}
</script>

<Dialog bind:open title="Cancel this request?">
	<p>What is open stops, what was done is undone. {request.asker} is told your reason.</p>
	{#if ends.length}<p data-ends>These end with it, and who asked is told: {list.format(ends)}.</p>{/if}
	{#if request.reasons.length}
		<Field label="Why"
			><select class="select" bind:value={chosen} data-field="chosen">
				<option value="" disabled>choose</option>
				{#each request.reasons as one (one)}<option>{one}</option>{/each}
			</select></Field
		>
	{/if}
	<Field label={request.reasons.length ? 'In your words, if you like' : 'Why'}
		><input class="input" bind:value={reason} maxlength="2000" /></Field
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" data-do="cancel-now" onclick={cancel} disabled={!ready || act.running}
			>Cancel the request</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Leave it</button>
	</div>
</Dialog>
