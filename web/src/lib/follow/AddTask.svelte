<!-- Adds a task to a request under way, by whoever leads. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	type Props = { open: boolean; request: Schema['RequestSheet']; act: Act };
	let { open = $bindable(), request, act }: Props = $props();
	const path = $derived({ path: { request: request.id } });
	let extra = $state({ name: '', team: '', reason: '', before: '' });
	async function addTask() {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/tasks', {
					params: path,
					body: { ...extra, before: extra.before || undefined }
				})
			)
		);
		if (done) {
			open = false;
			extra = { name: '', team: '', reason: '', before: '' };
		}
	}
</script>

<Dialog bind:open title="Add a task">
	<Field label="What is to be done"
		><input class="input" bind:value={extra.name} maxlength="200" data-field="task-name" /></Field
	>
	<Field label="By"
		><select class="select" bind:value={extra.team} data-field="task-team"
			><option value="" disabled>choose a team</option>{#each request.teams as t (t.key)}<option value={t.key}
					>{t.name}</option
				>{/each}</select
		></Field
	>
	<Field label="Before"
		><select class="select" bind:value={extra.before}
			><option value="">nothing in particular</option
			>{#each request.tasks.filter((t) => t.state === 'blocked') as t (t.key)}<option value={t.key}
					>{t.name}</option
				>{/each}</select
		></Field
	>
	<Field label="Why"
		><input class="input" bind:value={extra.reason} maxlength="2000" data-field="task-reason" /></Field
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button
			class="btn do"
			onclick={addTask}
			disabled={act.running || !extra.name.trim() || !extra.team || !extra.reason.trim()}>Add it</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Not now</button>
	</div>
</Dialog>
