<!-- The asker takes a request back. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';

	type Props = { open: boolean; request: Schema['RequestSheet']; act: Act };
	let { open = $bindable(), request, act }: Props = $props();
	const path = $derived({ path: { request: request.id } });
	let reason = $state('');
	let chosen = $state('');
	async function takeBack() {
		open = false;
		await act.run(() =>
			unwrap(api.POST('/api/requests/{request}/withdraw', { params: path, body: { reason, chosen } }))
		);
	}
</script>

<Dialog bind:open title="Take this request back?">
	<p>
		{request.tasks.length
			? 'What is open stops. What was done already is undone, the last first; then it closes.'
			: 'It ends here. Whoever was asked to decide is told.'}
	</p>
	{#if request.askerReasons.length}
		<Field label="Why, if you like"
			><select class="select" bind:value={chosen} data-field="why-back">
				<option value="">—</option>
				{#each request.askerReasons as one (one)}<option>{one}</option>{/each}
			</select></Field
		>
	{/if}
	<Field label={request.askerReasons.length ? 'In your words' : 'Why, if you like'}
		><input class="input" bind:value={reason} maxlength="2000" /></Field
	>
	<div class="buttons">
		<button class="btn do" onclick={takeBack}>Take it back</button>
		<button class="btn plain" onclick={() => (open = false)}>Keep it</button>
	</div>
</Dialog>
