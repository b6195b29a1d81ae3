<!-- The asker's side says that it is not right: with words, what of it, and files. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	type Props = { open: boolean; request: Schema['RequestSheet'] };
	let { open = $bindable(), request }: Props = $props();
	const act = new Act();
	const path = $derived({ path: { request: request.id } });
	let text = $state('');
	let lines = $state<string[]>([]);
	let files = $state.raw<File[]>([]);
	const wrong = $derived(act.problem?.errors?.find((e) => e.place === '/text')?.sentence);

	async function send(event: SubmitEvent) {
		event.preventDefault();
		const done = await act.run(async () => {
			const sheet = await unwrap(
				api.POST('/api/requests/{request}/back', { params: path, body: { text, lines: [...lines] } })
			);
			for (const file of files)
				await unwrap(
					api.POST('/api/requests/{request}/added', {
						params: { ...path, query: { name: file.name, to: 'staff' } },
						body: file as unknown as string,
						bodySerializer: (b) => b as unknown as BodyInit
					})
				);
			return sheet;
		});
		if (!done) return;
		[open, text, lines, files] = [false, '', [], []];
		void tell('It is with those who put it right. The promised time goes on.');
	}
</script>

<Dialog bind:open title="What is not right?" name="send-back">
	<form onsubmit={send}>
		<Field label="In your words" problem={wrong}
			><textarea class="textarea" rows="3" bind:value={text} maxlength="2000" data-field="wrong"
			></textarea></Field
		>
		{#if request.lines.length > 1}
			<fieldset>
				<legend>What of it? Nothing ticked: all of it</legend>
				{#each request.lines as line (line)}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={lines.includes(line)}
							onchange={(e) =>
								(lines = e.currentTarget.checked ? [...lines, line] : lines.filter((l) => l !== line))}
							data-line={line}
						/>
						{line}</label
					>
				{/each}
			</fieldset>
		{/if}
		<label class="btn plain small"
			>{files.length ? files.map((f) => f.name).join(', ') : 'Add pictures or files'}<input
				type="file"
				multiple
				class="sr-only"
				onchange={(e) => (files = [...(e.currentTarget.files ?? [])])}
				data-field="wrong-files"
			/></label
		>
		<Trouble problem={wrong ? undefined : act.problem} />
		<div class="buttons">
			<button class="btn do" disabled={act.running || !text.trim()} data-do="send-back">Send it back</button>
			<button type="button" class="btn plain" onclick={() => (open = false)}>It is right after all</button>
		</div>
	</form>
</Dialog>

<style>
	form {
		display: grid;
		gap: 0.8rem;
		justify-items: start;
	}
	form :global(.field) {
		width: 100%;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		padding-block: 0.15rem;
	}
</style>
