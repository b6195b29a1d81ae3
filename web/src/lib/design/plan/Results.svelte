<!-- What is to be ticked before a task is done, and what comes out of it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { getEditor } from '../editor.svelte';
	import Fold from '../Fold.svelte';
	import Many from '../Many.svelte';
	import { actionType } from './kinds';
	import Outputs from './Outputs.svelte';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	const action = $derived(actionType(editor.materials.connectors, task.action));
	const now = $derived(
		[
			task.mustDos?.length && `${task.mustDos.length} to tick`,
			task.outputs?.length && task.outputs.map((o) => o.name).join(', ')
		]
			.filter(Boolean)
			.join('; ')
	);
</script>

<Fold
	name="To tick, and what comes out"
	{now}
	none={action?.outputs.length ? 'what the action gives' : 'nothing'}
>
	<Field label="Points to tick before it is done, one a line">
		<Many
			rows={3}
			field="must-dos"
			value={task.mustDos ?? []}
			onlist={(list) => (task.mustDos = list.length ? list : undefined)}
		/>
	</Field>
	{#if task.kind === 'manual' || action?.free}<Outputs
			{task}
			{place}
			reply={task.kind === 'automatic'}
		/>{/if}
</Fold>
