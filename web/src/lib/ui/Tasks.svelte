<!-- The tasks of a request in their order, each with its state as a mark and a word. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { list } from '$lib/words';
	import TaskState from './TaskState.svelte';
	import When from './When.svelte';

	let { tasks }: { tasks: Schema['TaskView'][] } = $props();
</script>

<ol class="tasks">
	{#each tasks as task (task.key)}
		<li class={task.state} data-task={task.key}>
			<span class="box" aria-hidden="true"></span>
			<div>
				<strong>{task.name}</strong>
				<span class="state soft"><TaskState {task} /></span>
				<p class="soft small">
					{#if task.automatic}By itself: {task.automatic}{:else if task.kind === 'wait'}Waits for its time{#if task.until},
							<When time={task.until} absolute />{/if}{:else if task.kind === 'message'}Written by itself{:else}{task.team}{/if}{#if task.confirmed},
						{task.confirmed} confirmed{/if}{#if task.holder}, with {task.holder}{/if}{#if task.after.length && task.state === 'blocked'},
						after {list.format(task.after)}{/if}{#if task.endedAt}, <When
							time={task.endedAt}
						/>{/if}{#if task.likely}, likely done <When time={task.likely} absolute />{/if}
				</p>
				{#if task.word}<p class="small"><q>{task.word}</q></p>{/if}
				{#each task.outputs as output (output.key)}
					<p class="output">
						{output.label}: <span class="mono" data-output={output.key}>{output.text}</span>
					</p>
				{/each}
				{#each task.secrets ?? [] as secret (secret.key)}
					<p class="small soft">{secret.label}: only whom it is for can see it.</p>
				{/each}
				{#if task.trouble}
					<p class="small problem">
						{task.trouble}{#if task.retryAt}
							It is tried again by itself.{/if}
					</p>
				{/if}
			</div>
		</li>
	{/each}
</ol>

<style>
	li {
		display: grid;
		grid-template-columns: 1.5rem minmax(0, 1fr);
		padding: 0.4rem 0;
	}
	.box {
		width: 0.85rem;
		height: 0.85rem;
		margin-top: 0.3rem;
		border: 2px solid var(--line-strong);
		background: transparent;
	}
	.blocked .box {
		border: 1px solid var(--line-strong);
	}
	.ready .box {
		border: 3px solid var(--sound);
	}
	.asking .box,
	.taken .box {
		border-color: var(--sound);
		background: linear-gradient(135deg, var(--sound) 50%, transparent 50%);
	}
	.done .box {
		border-color: var(--kelp);
		background: var(--kelp);
	}
	.stopped .box,
	.undone .box,
	.skipped .box {
		border-style: dotted;
	}
	.stuck .box {
		border-color: var(--buoy);
		background: linear-gradient(to top right, transparent 40%, var(--buoy) 40% 60%, transparent 60%);
	}
	.state {
		margin-left: 0.35rem;
	}
	.output {
		color: var(--kelp-text);
		font-weight: 600;
	}
</style>
