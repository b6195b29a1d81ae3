<!-- Staff cancel a request, with a reason. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	type Props = { open: boolean; request: Schema['RequestSheet']; act: Act };
	let { open = $bindable(), request, act }: Props = $props();
	const path = $derived({ path: { request: request.id } });
	let reason = $state('');
	async function cancel() {
		const done = await act.run(() =>
			unwrap(api.POST('/api/requests/{request}/cancel', { params: path, body: { reason } }))
		);
		if (done) open = false;
	}
</script>

<Dialog bind:open title="Cancel this request?">
	<p>What is open stops, what was done is undone. {request.asker} is told your reason.</p>
	<Field label="Why"><input class="input" bind:value={reason} maxlength="2000" /></Field>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={cancel} disabled={!reason.trim() || act.running}
			>Cancel the request</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Leave it</button>
	</div>
</Dialog>
