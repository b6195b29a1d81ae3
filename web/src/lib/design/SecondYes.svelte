<!-- A draft that waits for another's yes: whoever did not ask says it, or sends it back. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import { at } from '$lib/words';
	import { getEditor } from './editor.svelte';

	type Props = {
		asked: Schema['AskedView'];
		/** Its problem stands where it stays when this is gone. */
		act: Act;
		ondone: (opened: Schema['OpenedOffering']) => void;
	};
	let { asked, act, ondone }: Props = $props();
	const editor = getEditor();
	async function say(yes: boolean) {
		const offering = editor.document.key;
		const opened = await act.run(() =>
			unwrap(
				api.POST('/api/design/{offering}/publish/second', {
					params: { path: { offering } },
					body: { revision: editor.opened.revision, yes }
				})
			)
		);
		if (opened) ondone(opened);
	}
</script>

<div class="asked" data-asked={asked.mine ? 'mine' : 'theirs'}>
	{#if asked.mine}
		<p>
			It waits for the yes of another of you{#if asked.due}, to be published {at(asked.due)}{/if}. A change
			takes it back.
		</p>
	{:else}
		<p>
			{asked.by} wants to publish this as it stands{#if asked.due}, {at(asked.due)}{/if}.
		</p>
		<button class="btn do" disabled={act.running} onclick={() => say(true)} data-do="second-yes"
			>Yes, publish it</button
		>
		<button class="btn quiet" disabled={act.running} onclick={() => say(false)} data-do="second-no"
			>Send it back</button
		>
	{/if}
</div>

<style>
	.asked {
		border-left: 4px solid var(--buoy);
		padding-left: 0.6rem;
		display: grid;
		gap: 0.4rem;
		justify-items: start;
		font-size: 0.875rem;
	}
</style>
