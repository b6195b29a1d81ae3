<!-- What needs a text, one dialog for all: a question, what is stuck, why it is left out, a doubt. -->
<script lang="ts" module>
	export type Telling = 'ask' | 'stuck' | 'skip' | 'doubt';
</script>

<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	type Props = { open: boolean; telling: Telling; act: Act; path: { request: string; task: string } };
	let { open = $bindable(), telling, act, path }: Props = $props();
	const params = $derived({ path });
	const tellings: Record<Telling, { title: string; label: string; button: string }> = {
		ask: {
			title: 'Ask the asker',
			label: 'What do you want to know? The request waits for the answer.',
			button: 'Ask'
		},
		stuck: { title: 'This is stuck', label: 'What is it stuck on?', button: 'Say that it is stuck' },
		skip: {
			title: 'Leave this task out',
			label: 'Why is it not needed? Everybody reads it.',
			button: 'Leave it out'
		},
		doubt: {
			title: 'Not eligible',
			label: 'Why should they not have this? Those who lead read it and decide; the asker does not.',
			button: 'Tell those who lead'
		}
	};
	let text = $state('');
	$effect(() => {
		if (open) text = '';
	});
	async function told() {
		const body = { text };
		const done = await act.run((): Promise<unknown> =>
			telling === 'ask'
				? unwrap(api.POST('/api/tasks/{request}/{task}/ask', { params, body }))
				: telling === 'stuck'
					? unwrap(api.POST('/api/tasks/{request}/{task}/stuck', { params, body }))
					: telling === 'doubt'
						? unwrap(api.POST('/api/tasks/{request}/{task}/doubt', { params, body }))
						: unwrap(api.POST('/api/tasks/{request}/{task}/skip', { params, body }))
		);
		if (done) open = false;
	}
</script>

<Dialog bind:open title={tellings[telling].title}>
	<Field label={tellings[telling].label}
		><textarea class="textarea" rows="3" bind:value={text} maxlength="2000" data-field="telling"
		></textarea></Field
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={told} disabled={act.running || !text.trim()} data-do="tell"
			>{tellings[telling].button}</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Not now</button>
	</div>
</Dialog>
