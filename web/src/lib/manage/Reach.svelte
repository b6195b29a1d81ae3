<!-- How another system is reached, as an administrator sets it. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { open = $bindable(), system }: { open: boolean; system: Schema['ConnectorView'] } = $props();
	const act = new Act();
	let edited = $state(untrack(() => ({ ...system, secret: '' })));
	async function keep() {
		const { key, url, secret, atOnce, hosts, sensitive } = edited;
		const kept = await act.run(() =>
			unwrap(
				api.PUT('/api/connectors/{connector}', {
					params: { path: { connector: key } },
					body: { url, secret: secret || undefined, atOnce, hosts, sensitive }
				})
			)
		);
		if (kept) open = false;
	}
</script>

<Dialog bind:open title={edited.name}>
	<Field label="Address"
		><input class="input" bind:value={edited.url} maxlength="300" data-field="url" /></Field
	>
	<Field label="Secret{edited.hasSecret ? ': one is kept, encrypted; leave this empty to keep it' : ''}"
		><input
			class="input"
			type="password"
			autocomplete="off"
			bind:value={edited.secret}
			maxlength="400"
		/></Field
	>
	<Field label="Calls at the same time"
		><input class="input" type="number" min="1" max="50" bind:value={edited.atOnce} /></Field
	>
	{#if edited.key === 'web'}
		<Field label="Hosts that web calls may reach beside the address, one a line"
			><textarea class="textarea" rows="3" bind:value={edited.hosts}></textarea></Field
		>
	{/if}
	{#if edited.key === 'directory'}
		<Field label="Sensitive groups, one a line: who joins or leaves one always needs somebody's yes"
			><textarea class="textarea" rows="2" bind:value={edited.sensitive} data-field="sensitive"
			></textarea></Field
		>
	{/if}
	<Trouble problem={act.problem} />
	<button class="btn do" onclick={keep} disabled={act.running}>Save</button>
	<button class="btn plain" onclick={() => (open = false)}>Leave it as it was</button>
</Dialog>
