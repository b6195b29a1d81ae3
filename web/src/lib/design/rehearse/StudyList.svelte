<!-- The studies of a kind: which ran when, of which draft, how far each is; stopping and forgetting them. -->
<script lang="ts">
	import ProgressBar from '$lib/ui/ProgressBar.svelte';
	import { at } from '$lib/words';
	import { getEditor } from '../editor.svelte';
	import type { Studies } from './studies.svelte';
	let { studies }: { studies: Studies<unknown> } = $props();
	const editor = getEditor();
	const states = { running: 'running', done: '', stopped: 'stopped', failed: 'failed' } as const;
</script>

{#if studies.all?.length}
	<ul>
		{#each studies.all as study (study.id)}
			<li class:here={study.id === studies.here} data-study={study.state}>
				<button
					class="btn quiet small"
					onclick={() => (studies.here = study.id)}
					aria-pressed={study.id === studies.here}>{at(study.beganAt)}</button
				>
				<span class="small"
					>{study.by}, version {study.version}{#if study.old}<strong class="old">
							of an older draft</strong
						>{/if}
					{states[study.state]}
					{study.trouble ?? ''}</span
				>
				{#if study.state === 'running'}
					<ProgressBar label="How far it is" share={study.of ? study.done / study.of : 0} />
				{/if}
				<button
					class="btn quiet small"
					onclick={() => void studies.stop(editor.document.key, study.id)}
					data-do={study.state === 'running' ? 'stop-study' : 'forget-study'}
					>{study.state === 'running' ? 'Stop' : 'Forget'}</button
				>
			</li>
		{/each}
	</ul>
{/if}

<style>
	ul {
		list-style: none;
		padding: 0;
		margin-block: 0.6rem;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.5rem;
		border-bottom: 1px solid var(--line);
		padding: 0.1rem 0.3rem;
	}
	.here {
		background: var(--sound-wash);
	}
	.old {
		color: var(--brass-text);
	}
</style>
