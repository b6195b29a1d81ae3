<!-- Where a task stands, in a word. -->
<script lang="ts">
	import { taskWord, type Standing } from '$lib/words';
	let { task }: { task: Standing } = $props();
	const stuck = $derived(task.state === 'stuck' || task.undo === 'stuck');
</script>

<span class:stuck>{taskWord(task)}</span>

<style>
	span {
		font-size: 0.8125rem;
	}
	.stuck {
		color: var(--buoy-text);
		font-weight: 600;
	}
</style>
