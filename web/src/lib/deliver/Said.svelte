<!-- Words to the asker, notes to staff, files, and all that was said. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import AddFile from '$lib/ui/AddFile.svelte';
	import When from '$lib/ui/When.svelte';
	import { at } from '$lib/words';
	import { typed } from './typed.svelte';

	type Props = {
		task: Schema['TaskSheet'];
		replies: Schema['ReplyView'][];
		act: Act;
		path: { request: string; task: string };
	};
	let { task, replies, act, path }: Props = $props();
	const params = $derived({ path });
	const mine = $derived(typed.of(path));
	const type = (change: typeof mine) => typed.set(path, change);
	const may = (deed: (typeof task.allowed)[number]) => task.allowed.includes(deed);
	const readers = {
		say: 'the asker and this team',
		all: 'the asker and all teams at work',
		note: 'this team only',
		staff: 'all teams at work, not the asker'
	};
	let reader = $state<keyof typeof readers>('say');
	const staff = $derived(reader === 'note' || reader === 'staff');
	const readBy = $derived(reader === 'all' || reader === 'staff' ? ('staff' as const) : undefined);
	async function say() {
		const body = { text: mine.say ?? '', to: readBy };
		const done = await act.run(() =>
			staff
				? unwrap(api.POST('/api/tasks/{request}/{task}/notes', { params, body }))
				: unwrap(api.POST('/api/tasks/{request}/{task}/words', { params, body }))
		);
		if (done) type({ say: '' });
	}
</script>

<section>
	<h2>Said and noted</h2>
	{#if may('say')}
		<form
			class="say"
			onsubmit={(e) => {
				e.preventDefault();
				void say();
			}}
		>
			<textarea
				class="textarea"
				rows="2"
				aria-label={staff ? 'A note for staff' : `A word to ${task.asker}`}
				placeholder={staff ? 'A note for staff: the asker never sees it' : `A word to ${task.asker}`}
				bind:value={() => mine.say ?? '', (say) => type({ say })}
				maxlength="2000"
				data-field="say"
				class:staff></textarea>
			<div class="buttons">
				<button class="btn plain" disabled={act.running || !mine.say?.trim()} data-do="say"
					>{staff ? 'Note for staff' : `Write to ${task.asker}`}</button
				>
				<select class="select small" aria-label="Who reads it" bind:value={reader} data-field="readers">
					{#each Object.entries(readers) as [key, words] (key)}<option value={key}>read by {words}</option
						>{/each}
				</select>
				{#if replies.length}
					<select
						class="select small"
						aria-label="Put a prepared reply in"
						onchange={(e) => {
							const reply = replies.find((r) => r.id === e.currentTarget.value);
							if (reply) type({ say: reply.text });
							e.currentTarget.value = '';
						}}
						data-field="reply"
					>
						<option value="">Prepared reply …</option>
						{#each replies as r (r.id)}<option value={r.id}>{r.name}</option>{/each}
					</select>
				{/if}
				<AddFile request={path.request} task={path.task} to={readBy ?? 'task'} />
			</div>
		</form>
	{/if}
	{#each task.files as file (file.id)}
		<p class="small">
			<a href="/api/requests/{task.request}/files/{file.id}" download={file.name}>{file.name}</a>
			<span class="soft">{file.by}, <When time={file.at} /></span>
		</p>
	{/each}
	<ol class="words">
		{#each task.words.toReversed() as word, i (i)}
			<li class={word.kind}>
				<span class="soft small"
					>{at(word.at)}{#if word.kind === 'note'}<br />staff only{/if}</span
				>
				<span
					>{#if word.actor}<strong>{word.actor}:</strong>&nbsp;{/if}{word.remark || word.sentence}
					{#if word.readers}<span class="soft small">(read by {word.readers})</span>{/if}</span
				>
			</li>
		{:else}
			<li class="soft">Nothing yet.</li>
		{/each}
	</ol>
</section>

<style>
	section {
		margin-top: 1.4rem;
	}
	.buttons .select {
		width: auto;
		max-width: 17rem;
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
	.say {
		display: grid;
		gap: 0.4rem;
		margin-block: 0.4rem;
	}
	.say .staff {
		background: var(--brass-wash);
	}
	.words li {
		display: grid;
		grid-template-columns: 9.5rem minmax(0, 1fr);
		gap: 0.75rem;
		padding: 0.35rem 0;
		border-bottom: 1px solid var(--line);
		align-items: baseline;
		white-space: pre-line;
	}
	.words .note {
		background: var(--brass-wash);
	}
	@media (max-width: 600px) {
		.words li {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
