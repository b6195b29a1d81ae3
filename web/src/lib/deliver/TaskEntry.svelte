<!-- A task in the index: what it is, for whom, with whom, and its slack. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Slack from '$lib/ui/Slack.svelte';
	import TaskState from '$lib/ui/TaskState.svelte';
	let { task, href, here }: { task: Schema['TaskLine']; href: string; here: boolean } = $props();
</script>

<a {href} aria-current={here ? 'page' : undefined}>
	<span class="first"
		><strong>{task.name}</strong>{#if task.slack !== undefined}<span class="mono"
				><Slack minutes={task.slack} taken={task.state === 'taken'} /></span
			>{/if}</span
	>
	<span class="note"
		>{task.title} · {task.for}<br />{#if task.yours}<b>with you</b
			>{:else if task.holder}{task.holder}{:else}{task.team}{/if}{#if task.undo}, <b class="warn"
				>to be taken back</b
			>{:else if task.state !== 'ready'}, <TaskState {task} />{/if}{#if task.late}, <span
				class="warn"
				data-late>request late</span
			>{/if}</span
	>
</a>

<style>
	a {
		padding: 0.5rem 0.75rem 0.5rem 0.4rem;
		display: block;
	}
	.first {
		display: flex;
		justify-content: space-between;
		gap: 0.5rem;
		align-items: baseline;
		line-height: 1.3;
	}
	.mono {
		word-spacing: -0.35em;
		font-size: 0.8125rem;
	}
	.warn {
		color: var(--buoy-text);
		font-weight: 600;
	}
	.note {
		display: block;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		line-height: 1.35;
	}
</style>
