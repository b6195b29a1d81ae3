<!-- One offering on the desk: seven sides, the side at hand, the live preview. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { api, asked } from '$lib/api/client';
	import Around from '$lib/design/Around.svelte';
	import { Editor, setEditor, type Side } from '$lib/design/editor.svelte';
	import Preview from '$lib/design/Preview.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Ledger from '$lib/ui/Ledger.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data, children } = $props();
	const act = new Act();
	const editor = untrack(() => new Editor(data.opened, data.portfolio));
	setEditor(() => editor);
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
				opened.state !== editor.opened.state;
			if (other && !editor.changed && !editor.saving) editor.take(opened);
		});
	});
	beforeNavigate(({ to }) => {
		if (to?.params?.offering !== editor.document.key) void editor.save();
	});

	const errors = $derived(editor.opened.findings.filter((f) => f.severity === 'error').length);
	const side = $derived((page.params.side ?? 'purpose') as Side);

	async function publish() {
		await editor.save();
		if (editor.problem) return;
		const done = await act.run(() =>
			asked(
				api.POST('/api/design/{offering}/publish', {
					params: { path: { offering: editor.document.key } },
					body: { revision: editor.opened.revision }
				})
			)
		);
		if (done) {
			editor.take(done);
			published = done.number;
		}
	}
	async function loadOther() {
		await invalidateAll();
		editor.take(data.opened);
	}
</script>

<svelte:window
	onbeforeunload={(e) => {
		if (editor.changed) e.preventDefault();
	}}
/>

<Ledger title="Sides">
	{#snippet index()}
		<p class="back"><a href="/design">All offerings</a></p>
		<Around here={side} />
		<div class="publish">
			<p class="soft small" role="status" data-saved={!editor.changed && !editor.saving}>
				{#if editor.problem}Not saved.{:else if editor.changed || editor.saving}Saving …{:else if editor.opened.state === 'draft'}Draft
					of version {editor.opened.number}, saved{:else}Version {editor.opened.number}, as on Ask{/if}
			</p>
			{#if editor.removed}
				<p class="small" role="status" data-removed>
					“{editor.removed.words}” is removed.
					<button class="btn quiet" onclick={() => editor.bringBack()}>Bring it back</button>
				</p>
			{/if}
			<Trouble problem={editor.problem ?? act.problem} />
			{#if editor.problem?.code === 'draftChanged'}<button class="btn plain" onclick={loadOther}
					>Load the other</button
				>{/if}
			{#if editor.opened.state === 'draft' || editor.changed}
				<button class="btn do" onclick={publish} disabled={errors > 0 || act.running}>Publish</button>
				<p class="small" class:problem={errors > 0}>
					{errors ? `${errors} to mend before` : 'Nothing is missing.'}
				</p>
			{/if}
			{#if published && editor.opened.state === 'current'}
				<p class="done" role="status" data-published={published}>
					Published as version {published}. <a href="/ask/{editor.document.key}">See it on Ask</a>
				</p>
			{/if}
		</div>
	{/snippet}
	{#snippet sheet()}{@render children()}{/snippet}
	{#snippet margin()}<Preview />{/snippet}
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
	.done {
		color: var(--kelp-text);
		font-weight: 600;
	}
</style>
