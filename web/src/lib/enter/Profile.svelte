<!-- What somebody wants those to know who have a task for them. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { profile }: { profile: Schema['ProfileView'] } = $props();
	const act = new Act();
	let edited = $state(untrack(() => ({ address: '', reach: '', help: '', ...profile })));
	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const { address, reach, help } = edited;
		const kept = await act.run(() => unwrap(api.PUT('/api/me/profile', { body: { address, reach, help } })));
		if (kept) void tell('Saved. Those who have a task for you see it beside your name.');
	}
</script>

<form onsubmit={keep}>
	<Field label="How you want to be addressed"
		><input class="input" bind:value={edited.address} maxlength="120" data-field="address" /></Field
	>
	<Field label="When you can be reached"
		><input class="input" bind:value={edited.reach} maxlength="300" data-field="reach" /></Field
	>
	<Field label="What help you need"
		><textarea class="textarea" rows="2" bind:value={edited.help} maxlength="500" data-field="help"
		></textarea></Field
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn plain" disabled={act.running} data-do="save-profile">Save</button>
	</div>
</form>

<style>
	form {
		display: grid;
		gap: 0.7rem;
		width: 100%;
		max-width: 26rem;
	}
</style>
