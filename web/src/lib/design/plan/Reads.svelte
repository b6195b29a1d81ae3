<!-- What the team sees of the answers, and reads. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import { getEditor } from '../editor.svelte';
	import Fold from '../Fold.svelte';
	import Ticks from '../Ticks.svelte';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	const questions = $derived(editor.document.questions.filter((q) => q.kind !== 'statement'));
</script>

<Fold
	name="What the team sees and reads"
	now={task.slice?.length ? String(task.slice.length) : ''}
	none="none"
	open={task.kind === 'manual'}
>
	<Ticks
		label="Answers the team sees"
		none="There are no questions yet."
		things={questions.map((q) => ({ key: q.key, name: q.label }))}
		list={task.slice}
		field="slice"
		onlist={(list) => (task.slice = list)}
	/>
	<Cel
		titled
		label="Instructions"
		place="{place}/instructions"
		value={task.instructions ?? ''}
		text
		field="instructions"
		onrule={(text) => (task.instructions = text || undefined)}
	/>
</Fold>
