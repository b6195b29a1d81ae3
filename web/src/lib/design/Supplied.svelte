<!-- Where an offering comes from: as it came with Heptad, changed since, and what Heptad brings otherwise now. -->
<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { getEditor } from './editor.svelte';

	/** What is kept is read anew. */
	let { ontaken }: { ontaken: () => Promise<void> } = $props();
	const editor = getEditor();
	const act = new Act();
	const opened = $derived(editor.opened);
	let both = $state(0);

	async function answer(take: boolean) {
		await editor.save();
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/design/{offering}/supplied', {
					params: { path: { offering: editor.document.key } },
					body: { revision: editor.opened.revision, take }
				})
			)
		);
		if (!done) return;
		both = done.conflicts.length;
		await ontaken();
	}
</script>

{#if opened.origin !== 'own'}
	<div class="small" data-origin={opened.origin}>
		<p class="soft">
			{opened.origin === 'supplied' ? 'As it came with Heptad.' : 'Came with Heptad, and is changed here.'}
		</p>
		{#if opened.renewed.length}
			<div class="news" data-renewed={opened.renewed.length}>
				<p><strong>Heptad brings another one now.</strong> Yours stays until you say otherwise.</p>
				<ul>
					{#each opened.renewed as change, i (i)}<li>{change.sentence}</li>{/each}
				</ul>
				<button class="btn do" disabled={act.running} onclick={() => answer(true)} data-do="take-news"
					>Bring it into the draft</button
				>
				<button
					class="btn quiet small"
					disabled={act.running}
					onclick={() => answer(false)}
					data-do="leave-news">Leave mine as it is</button
				>
			</div>
		{/if}
		{#if both}<p role="status">
				You both changed {both === 1 ? 'one thing' : `${both} things`}; there yours counts.
			</p>{/if}
		<Trouble problem={act.problem} />
	</div>
{/if}

<style>
	.news {
		border-left: 4px solid var(--brass);
		padding: 0.3rem 0.75rem;
		display: grid;
		gap: 0.4rem;
		justify-items: start;
	}
</style>
