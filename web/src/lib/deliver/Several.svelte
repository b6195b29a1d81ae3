<!-- What can be done with several tasks at once. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	type Deed = 'take' | 'complete' | 'handOver';
	type Props = {
		chosen: Schema['TaskLine'][];
		people: Schema['LoadView'][];
		running: boolean;
		/** person: to whom they are handed over. */
		ondo: (deed: Deed, person?: string) => void;
	};
	let { chosen, people, running, ondo }: Props = $props();
	const can = $derived({
		take: chosen.length > 0 && chosen.every((t) => t.allowed.includes('take')),
		complete: chosen.length > 0 && chosen.every((t) => t.allowed.includes('complete')),
		handOver: chosen.length > 0 && chosen.every((t) => t.allowed.includes('handOver'))
	});
	let to = $state('');
</script>

<div class="several" role="group" aria-label="{chosen.length} tasks at once">
	<p><strong>{chosen.length} at once</strong></p>
	<div class="row">
		<button class="btn do" disabled={!can.take || running} onclick={() => ondo('take')}>Take</button>
		<button class="btn plain" disabled={!can.complete || running} onclick={() => ondo('complete')}
			>Done</button
		>
	</div>
	{#if people.length}
		<div class="row">
			<select class="select" aria-label="Hand over to" bind:value={to}
				><option value="">to …</option>{#each people as p (p.person)}<option value={p.person}>{p.name}</option
					>{/each}</select
			>
			<button
				class="btn plain"
				disabled={!can.handOver || !to || running}
				onclick={() => ondo('handOver', to)}>Hand over</button
			>
		</div>
	{/if}
</div>

<style>
	.several {
		padding: 0.5rem 0.75rem;
		display: grid;
		gap: 0.4rem;
		background: var(--sound-wash);
	}
	.row {
		flex-wrap: nowrap;
	}
	.row > .select {
		flex: 1;
		min-width: 0;
	}
</style>
