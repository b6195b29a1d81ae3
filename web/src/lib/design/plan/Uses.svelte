<!-- What a task takes of what there is only so much of, and what people have then. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { getEditor } from '../editor.svelte';
	import Fold from '../Fold.svelte';
	import Found from '../Found.svelte';
	import Belonging from './Belonging.svelte';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	const poolUse = $derived(!task.pool ? '' : task.pool.adds ? 'adds' : 'takes');
	function pool(use: string) {
		const first = editor.materials.pools[0]?.key ?? '';
		task.pool = use
			? { pool: task.pool?.pool ?? first, ...(use === 'adds' ? { adds: true } : {}) }
			: undefined;
	}
	const poolName = $derived(editor.materials.pools.find((p) => p.key === task.pool?.pool)?.name ?? '');
	const now = $derived(
		[
			task.pool && `${task.pool.adds ? 'makes larger' : 'takes from'} ${poolName}`,
			task.belonging &&
				{ make: 'gives', change: 'changes', end: 'ends' }[task.belonging.does] + ' a belonging'
		]
			.filter(Boolean)
			.join('; ')
	);
</script>

<Fold name="What it uses, and what they have then" {now} none="nothing">
	<div class="row">
		<Field label="Of what there is only so much">
			<select class="select" value={poolUse} onchange={(e) => pool(e.currentTarget.value)} data-field="pool">
				<option value="">it takes nothing</option>
				<option value="takes">it takes a place, or waits for one</option>
				<option value="adds">it makes it one larger</option>
			</select>
		</Field>
		{#if task.pool}
			<Field label="Which">
				<select class="select" bind:value={task.pool.pool} data-field="which-pool">
					{#each editor.materials.pools as one (one.key)}<option value={one.key}>{one.name}</option>{/each}
				</select>
			</Field>
		{/if}
	</div>
	<Found place="{place}/pool" />
	<Belonging {task} {place} />
	<Found place="{place}/belonging" />
</Fold>
