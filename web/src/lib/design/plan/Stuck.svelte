<!-- Who helps when a task is stuck. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor } from '../editor.svelte';
	import Fold from '../Fold.svelte';
	import Rescue from './Rescue.svelte';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	const now = $derived(
		task.rescue
			? [
					editor.materials.teams.find((t) => t.key === task.rescue?.team)?.name ?? 'its own team',
					task.rescue.within && `within ${task.rescue.within}`
				]
					.filter(Boolean)
					.join(', ')
			: ''
	);
</script>

<Fold name="When it is stuck" {now} none="its own team helps">
	<Rescue {task} {place} />
</Fold>
