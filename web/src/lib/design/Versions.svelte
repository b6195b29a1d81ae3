<!-- The versions of an offering, what is different from one to another, and its end. -->
<script lang="ts">
	import Dialog from '$lib/ui/Dialog.svelte';
	import { goto, invalidateAll } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { askedOfferings } from '$lib/names.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import NamePicker from '$lib/ui/NamePicker.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { getEditor } from './editor.svelte';

	const editor = getEditor();
	const act = new Act();
	let dialog = $state(false);
	let discarding = $state(false);
	let versions = $state.raw<Schema['VersionLine'][]>([]);
	let from = $state(0);
	let to = $state(0);
	let changes = $state.raw<Schema['OfferingChange'][]>([]);
	let successor = $state('');
	const path = $derived({ path: { offering: editor.document.key } });

	async function show() {
		await editor.save();
		versions = (await unwrap(api.GET('/api/design/{offering}/versions', { params: path }))).entries;
		to = versions[0]?.number ?? 0;
		from = versions[1]?.number ?? to;
		dialog = true;
		await compare();
	}
	async function compare() {
		changes = (
			await unwrap(api.GET('/api/design/{offering}/changes', { params: { ...path, query: { from, to } } }))
		).entries;
	}
	async function after(deed: Promise<Schema['OpenedOffering'] | undefined>) {
		const opened = await deed;
		if (!opened) return;
		editor.take(opened);
		dialog = false;
	}
	const end = () =>
		after(
			act.run(() => unwrap(api.POST('/api/design/{offering}/end', { params: path, body: { successor } })))
		);
	const revive = () =>
		after(act.run(() => unwrap(api.DELETE('/api/design/{offering}/end', { params: path }))));
	async function drop() {
		const query = { revision: editor.opened.revision };
		const done = await act.run(() =>
			unwrap(api.DELETE('/api/design/{offering}', { params: { ...path, query } })).then(() => true)
		);
		discarding = false;
		if (!done) return;
		dialog = false;
		if (!editor.opened.current) await goto('/design');
		else {
			editor.take(await unwrap(api.GET('/api/design/{offering}', { params: path })));
			await invalidateAll();
		}
	}
</script>

<button class="btn quiet small" onclick={() => void show()} data-do="versions">Versions, and its end</button>

<Dialog bind:open={dialog} wide title="Versions of {editor.document.purpose.name}">
	<ul>
		{#each versions as v (v.number)}
			<li>
				<strong>Version {v.number}</strong>
				<span class="soft"
					>{{ draft: 'draft', current: 'on Ask now', past: 'past' }[v.state]}, {v.changedBy}, <When
						time={v.changedAt}
					/></span
				>
			</li>
		{/each}
	</ul>
	{#if versions.length > 1}
		<p class="line">
			From version
			<select class="select" bind:value={from} onchange={() => void compare()} aria-label="From version"
				>{#each versions as v (v.number)}<option value={v.number}>{v.number}</option>{/each}</select
			>
			to
			<select class="select" bind:value={to} onchange={() => void compare()} aria-label="To version"
				>{#each versions as v (v.number)}<option value={v.number}>{v.number}</option>{/each}</select
			>
		</p>
		<ul class="changes" data-compared={changes.length}>
			{#each changes as change, i (i)}<li>
					<span class="soft small">{change.side}</span>
					{change.sentence}
				</li>{:else}<li class="soft">They are the same.</li>{/each}
		</ul>
	{/if}
	<Trouble problem={act.problem} />
	<div class="line">
		{#if editor.opened.state === 'draft'}<button
				class="btn plain"
				onclick={() => (discarding = true)}
				data-do="discard">{editor.opened.current ? 'Discard the draft' : 'Discard this offering'}</button
			>{/if}
		{#if editor.opened.ended}
			<button class="btn plain" onclick={revive}>Offer it again</button>
		{:else if editor.opened.current}
			<button class="btn plain" onclick={end} data-do="end">End this offering</button>
			<label class="small" for="successor">old links then name</label>
			<NamePicker
				from={askedOfferings}
				value={successor}
				without={[editor.document.key]}
				label="What takes its place"
				control={{ id: 'successor', 'data-field': 'successor', placeholder: 'nothing; begin to type' }}
				onkey={(key) => (successor = key ?? '')}
			/>
		{/if}
		<button class="btn quiet" onclick={() => (dialog = false)}>Close</button>
	</div>
</Dialog>
<Dialog
	bind:open={discarding}
	name="discard"
	title={editor.opened.current ? 'Discard the draft?' : `Discard ${editor.document.purpose.name}?`}
>
	<p>
		{#if editor.opened.current}All that was changed since version {editor.opened.current} is lost; that version
			stays on Ask.{:else}It was never published: all of it is lost.{/if}
	</p>
	<div class="line">
		<button class="btn do" onclick={drop} data-do="discard-now">Discard</button>
		<button class="btn plain" onclick={() => (discarding = false)}>Keep it</button>
	</div>
</Dialog>

<style>
	li {
		padding-block: 0.2rem;
	}
	.changes {
		border-top: 1px solid var(--line);
		margin-block: 0.4rem 0.9rem;
	}
	.line {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
		align-items: center;
		margin-top: 0.6rem;
	}
	.line :global(.picker) {
		flex: 0 1 16rem;
	}
	.select {
		width: auto;
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
</style>
