<!-- Staff close a request as done, with a word to the asker: their own, or a prepared one. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { list } from '$lib/words';

	type Props = { open: boolean; request: Schema['RequestSheet']; act: Act; ends: string[] };
	let { open = $bindable(), request, act, ends }: Props = $props();
	let word = $state('');
	let replies = $state.raw<Schema['ReplyView'][]>([]);
	const ended = ['done', 'skipped', 'stopped', 'undone'];
	const left = $derived(request.tasks.filter((t) => !ended.includes(t.state)).map((t) => t.name));
	$effect(() => {
		if (!open) return;
		void unwrap(api.GET('/api/replies', { params: { query: { request: request.id } } })).then(
			(found) => (replies = found.entries),
			() => (replies = [])
		);
	});
	async function close() {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/close', {
					params: { path: { request: request.id } },
					body: { word }
				})
			)
		);
		if (done) [open, word] = [false, ''];
	}
</script>

<Dialog bind:open title="Close this request as done?">
	<p>
		{#if left.length}Left out with your word: {list.format(left)}.{:else}All work is done.{/if}
		{request.asker} reads how it ended, and can send it back.
	</p>
	{#if ends.length}<p data-ends>These end with it, and who asked is told: {list.format(ends)}.</p>{/if}
	<Field label="How it ended">
		<textarea class="textarea" rows="3" bind:value={word} maxlength="2000" data-field="closing-word"
		></textarea>
	</Field>
	{#if replies.length}
		<select
			class="select"
			aria-label="Put a prepared reply in"
			onchange={(e) => {
				word = replies.find((r) => r.id === e.currentTarget.value)?.text ?? word;
				e.currentTarget.value = '';
			}}
			data-field="closing-reply"
		>
			<option value="">Prepared reply …</option>
			{#each replies as r (r.id)}<option value={r.id}>{r.name}</option>{/each}
		</select>
	{/if}
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" data-do="close-now" onclick={close} disabled={!word.trim() || act.running}
			>Close it as done</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Leave it</button>
	</div>
</Dialog>
