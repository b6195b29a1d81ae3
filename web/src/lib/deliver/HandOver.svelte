<!-- Hands a task to a colleague, another team, the team upward, or back. -->
<script lang="ts">
	import { goto } from '$app/navigation';
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
	let to = $state('');
	let why = $state('');
	async function handOver() {
		const [kind, key] = [to.slice(0, 1), to.slice(1)];
		const done = await act.run(async () => {
			await unwrap(
				api.POST('/api/tasks/{request}/{task}/hand-over', {
					params,
					body:
						kind === 'p'
							? { person: key, reason: why }
							: kind === 't'
								? { team: key, reason: why }
								: kind === 'u'
									? { upward: true, reason: why }
									: { reason: why }
				})
			);
			open = false;
			if (kind === 't' || kind === 'u') await goto('/deliver'); // it is with others now
			return true;
		});
		if (done) to = why = '';
	}
</script>

<Dialog bind:open title="Hand over">
	<Field label="To"
		><select class="select" bind:value={to} data-field="to">
			<option value="">Nobody in particular: back to {task.team}</option>
			{#each task.colleagues as c (c.id)}<option value="p{c.id}">{c.name}{c.absent ? ' (absent)' : ''}</option
				>{/each}
			{#if task.upward}<option value="u">{task.upward}, the team upward</option>{/if}
			{#each task.teams as t (t.key)}<option value="t{t.key}">{t.name}</option>{/each}
		</select></Field
	>
	<Field label="Why{to.startsWith('t') || to === 'u' ? '' : ', if you like'}"
		><input class="input" bind:value={why} maxlength="2000" data-field="why" /></Field
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={handOver} disabled={act.running} data-do="hand">Hand over</button>
		<button class="btn plain" onclick={() => (open = false)}>Keep it</button>
	</div>
</Dialog>
