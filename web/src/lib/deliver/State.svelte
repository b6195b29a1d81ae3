<!-- Where a task stands, who has it, and how much slack is left, in one line. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Slack from '$lib/ui/Slack.svelte';
	import When from '$lib/ui/When.svelte';
	import { list, taskStates } from '$lib/words';
	let { task }: { task: Schema['TaskSheet'] } = $props();
</script>

<p class="now">
	{#if task.undo}{task.undo === 'taken'
			? `${task.yours ? 'You are' : `${task.holder} is`} taking this back`
			: task.undo === 'stuck'
				? 'Taking this back is stuck'
				: 'This is to be taken back'}{:else if task.state === 'taken'}{task.yours
			? 'You have taken this'
			: `${task.holder} has taken this`}{:else if task.state === 'asking'}Waits for an answer of {task.asker}{:else if task.queued}Waits
		for a free place: {task.queued}{:else if task.accepted && task.state === 'ready'}The other side has it and
		will report: {task.automatic}{:else if task.state === 'ready' && !task.automatic}Nobody has taken this yet{:else if task.state === 'ready'}Being
		done by itself: {task.automatic}{:else if task.state === 'blocked'}Waits for {list.format(
			task.waits.map((w) => w.name)
		)}{:else}This is {taskStates[task.state]}{/if}<span class="soft since"
		>{#if task.slack !== undefined && !task.endedAt}<Slack
				minutes={task.slack}
				taken={task.state === 'taken'}
			/>
			until it must {task.state === 'taken' ? 'end' : 'begin'}{#if task.late}<b class="warn" data-late
					>, the request is late</b
				>{/if}{:else if task.readyAt && !task.endedAt}ready <When
				time={task.readyAt}
			/>{/if}{#if task.endedAt}<When time={task.endedAt} />{/if}</span
	>
</p>

<style>
	.now {
		font: 600 1.1875rem var(--heading);
	}
	.since {
		font:
			0.875rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
		margin-left: 0.75rem;
	}
	.warn {
		color: var(--buoy-text);
	}
</style>
