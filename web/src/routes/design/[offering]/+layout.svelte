<!-- One offering on the desk: seven sides, the side at hand, the live preview. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Around from '$lib/design/Around.svelte';
	import { Editor, setEditor, type Side } from '$lib/design/editor.svelte';
	import Publish from '$lib/design/Publish.svelte';
	import Supplied from '$lib/design/Supplied.svelte';
	import Versions from '$lib/design/Versions.svelte';
	import Preview from '$lib/design/Preview.svelte';
	import Cast from '$lib/design/rehearse/Cast.svelte';
	import { Rehearsal, setRehearsal } from '$lib/design/rehearse/rehearsal.svelte';
	import { setTrial, Trial } from '$lib/design/trial.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { at } from '$lib/words';

	let { data, children } = $props();
	const act = new Act();
	const editor = untrack(() => new Editor(data.opened, data.materials));
	setEditor(() => editor);
	const trial = new Trial(editor);
	setTrial(trial);
	setRehearsal(new Rehearsal(editor, trial));
	let published = $state(0);

	$effect(() => {
		JSON.stringify(editor.document); // every change of any part
		untrack(() => editor.soon());
	});
	$effect(() => {
		const opened = data.opened; // read anew: somebody may have changed it
		untrack(() => {
			const other =
				opened.revision !== editor.opened.revision ||
				opened.number !== editor.opened.number ||
				opened.state !== editor.opened.state ||
				opened.asked?.at !== editor.opened.asked?.at;
			if (other && !editor.unsaved) editor.take(opened);
		});
	});
	beforeNavigate(({ to }) => {
		if (to?.params?.offering !== editor.document.key) void editor.save();
	});

	const side = $derived(page.params.side as Side | undefined);
	const rehearsing = $derived(page.route.id?.endsWith('/rehearse') ?? false);

	function done(opened: Schema['OpenedOffering']) {
		editor.take(opened);
		published = opened.state === 'current' ? opened.number : 0;
		void invalidateAll();
	}
	const unschedule = () =>
		act
			.run(() =>
				unwrap(
					api.DELETE('/api/design/{offering}/publish', {
						params: {
							path: { offering: editor.document.key },
							query: { revision: editor.opened.revision }
						}
					})
				)
			)
			.then((opened) => opened && editor.take(opened));
	function keys(e: KeyboardEvent) {
		if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'z') return;
		e.preventDefault();
		if (e.shiftKey) editor.redo();
		else editor.undo();
	}
	async function loadOther() {
		await invalidateAll();
		editor.take(data.opened);
	}
</script>

<svelte:window
	onkeydown={keys}
	onbeforeunload={(e) => {
		if (editor.unsaved) e.preventDefault();
	}}
/>

<Ledger title="Sides" fold="Sides, undo and publishing">
	{#snippet index()}
		<p class="back"><a href="/design">All offerings</a></p>
		<Around here={side} />
		<div class="publish">
			<p class="soft small" role="status" data-saved={!editor.unsaved}>
				{#if editor.problem}Not saved.{:else if editor.unsaved}Saving …{:else if editor.opened.state === 'draft'}Draft
					of version {editor.opened.number}, saved{:else}Version {editor.opened.number}, as on Ask{/if}
			</p>
			<Supplied ontaken={loadOther} />
			<p class="steps">
				<button
					class="btn quiet small"
					disabled={!editor.canUndo}
					onclick={() => editor.undo()}
					data-do="undo">Undo</button
				>
				<button
					class="btn quiet small"
					disabled={!editor.canRedo}
					onclick={() => editor.redo()}
					data-do="redo">Redo</button
				>
				<Versions />
			</p>
			{#if editor.removed}
				<p class="small" role="status" data-removed>
					“{editor.removed}” is removed.
					<button class="btn quiet" onclick={() => editor.undo()}>Bring it back</button>
				</p>
			{/if}
			{#if editor.other}
				<div class="other" role="alert" data-other>
					<p>
						<strong>{editor.other.by} has changed this draft meanwhile.</strong> Nothing of yours is lost.
					</p>
					<ul>
						{#each editor.other.theirs as change, i (i)}<li class="small">{change.sentence}</li>{/each}
					</ul>
					{#if editor.other.conflicts.length}<p class="small">
							You both changed {editor.other.conflicts.length === 1
								? 'one thing'
								: `${editor.other.conflicts.length} things`}; there yours counts.
						</p>{/if}
					<button class="btn do" onclick={() => void editor.bringTogether()}>Bring both together</button>
					<button class="btn quiet small" onclick={loadOther}>Take theirs; mine stays in Undo</button>
				</div>
			{:else}
				<Trouble problem={editor.problem ?? act.problem} />
			{/if}
			{#if editor.opened.publishAt}
				<p class="small" role="status" data-scheduled>
					Publishes itself {at(editor.opened.publishAt)}.
					<button class="btn quiet small" onclick={unschedule}>Not then</button>
				</p>
			{/if}
			{#if editor.opened.trouble}<p class="small problem">{editor.opened.trouble}</p>{/if}
			{#if editor.opened.ended}<p class="small">This offering has ended: nobody can ask for it.</p>{/if}
			{#if editor.opened.state === 'draft' || editor.changed}<Publish onpublished={done} />{/if}
			{#if published && editor.opened.state === 'current'}
				<p class="done" role="status" data-published={published}>
					Published as version {published}. <a href="/ask/{editor.document.key}">See it on Ask</a>
				</p>
			{/if}
		</div>
	{/snippet}
	{#snippet sheet()}{@render children()}{/snippet}
	{#snippet margin()}{#if rehearsing}<Cast />{:else}<Preview />{/if}{/snippet}
</Ledger>

<style>
	.back {
		padding-inline: 1rem;
		font-size: 0.875rem;
	}
	.publish {
		padding: 1rem;
		display: grid;
		gap: 0.5rem;
		justify-items: start;
	}
	.steps {
		display: flex;
		flex-wrap: wrap;
	}
	.steps .btn:disabled {
		background: none;
		text-decoration: none;
	}
	.other {
		border-left: 4px solid var(--buoy);
		background: var(--buoy-wash);
		padding: 0.5rem 0.75rem;
		display: grid;
		gap: 0.4rem;
		justify-items: start;
	}
	.done {
		color: var(--kelp-text);
		font-weight: 600;
	}
</style>
