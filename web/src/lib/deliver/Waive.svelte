<!-- Lets a task begin before one that it waits for has ended. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	type Props = {
		open: boolean;
		task: Schema['TaskSheet'];
		act: Act;
		path: { request: string; task: string };
	};
	let { open = $bindable(), task, act, path }: Props = $props();
	const params = $derived({ path });
	let why = $state('');
	let after = $state('');
	async function waive() {
		const done = await act.run(() =>
			unwrap(api.POST('/api/tasks/{request}/{task}/waive', { params, body: { after, reason: why } }))
		);
		if (done) open = false;
	}
</script>

<Dialog bind:open title="Begin before another task ends">
	<Field label="It need not wait for"
		><select class="select" bind:value={after}
			><option value="" disabled>choose</option>{#each task.waits as w (w.key)}<option value={w.key}
					>{w.name}</option
				>{/each}</select
		></Field
	>
	<Field label="Why"><input class="input" bind:value={why} maxlength="2000" /></Field>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={waive} disabled={act.running || !after || !why.trim()}
			>Let it begin</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Not now</button>
	</div>
</Dialog>
