<!-- What takes a task back when the request is taken back. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import { getEditor } from '../editor.svelte';
	import Fold from '../Fold.svelte';
	import Found from '../Found.svelte';
	import Call from './Call.svelte';
	import { actionType } from './kinds';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	const action = $derived(actionType(editor.materials.connectors, task.action));
	function setUndo(next: Schema['PlanUndo']) {
		task.undo = next.action || next.text ? next : undefined;
	}
	const now = $derived(task.undo?.action ? 'by itself' : task.undo?.text ? 'by its team' : '');
</script>

<Fold name="When the request is taken back" {now} none="it stays as it is">
	<Call
		label="What takes it back"
		place="{place}/undo/action"
		action={task.undo?.action}
		known={(action?.outputs ?? task.outputs ?? []).map((o) => o.key)}
		none="nothing by itself"
		field="undo"
		onaction={(next) => setUndo({ action: next })}
	/>
	{#if !task.undo?.action}
		<Cel
			titled
			label="What its team is to do by hand"
			place="{place}/undo/text"
			value={task.undo?.text ?? ''}
			text
			rows={1}
			field="undo-text"
			onrule={(text) => setUndo({ text: text || undefined })}
		/>
	{/if}
	<Found place="{place}/undo" />
</Fold>
