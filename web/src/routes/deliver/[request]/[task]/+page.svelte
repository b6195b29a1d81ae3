<!-- One task with only the answers it needs. -->
<script lang="ts">
	import { api, asked } from '$lib/api/client';
	import { taskStates } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const task = $derived(data.task);
	const params = $derived({ path: { request: task.request, task: task.key } });
	const deeds = {
		take: { name: 'Take', go: () => asked(api.POST('/api/tasks/{request}/{task}/take', { params })) },
		complete: { name: 'Done', go: () => asked(api.POST('/api/tasks/{request}/{task}/complete', { params })) },
		retry: { name: 'Try again', go: () => asked(api.POST('/api/tasks/{request}/{task}/retry', { params })) }
	};
	const allowed = $derived(task.allowed.filter((a): a is keyof typeof deeds => a in deeds));
</script>

<svelte:head><title>{task.name} · Heptad</title></svelte:head>
<p class="eyebrow"><span class="mono">{task.reference}</span> · {task.team}</p>
<h1>{task.name}</h1>
<p class="soft">for {task.asker}</p>

<div class="do" data-state={task.state}>
	<p class="now">
		{#if task.state === 'taken'}{task.yours
				? 'You have taken this'
				: `${task.holder} has taken this`}{:else if task.state === 'ready' && !task.automatic}Nobody has taken
			this yet{:else if task.state === 'ready'}Being done by itself, through the {task.automatic}{:else}This
			is {taskStates[task.state]}{/if}{#if task.readyAt && !task.endedAt}<span class="soft since"
				>ready <When time={task.readyAt} /></span
			>{/if}{#if task.endedAt}<span class="soft since"><When time={task.endedAt} /></span>{/if}
	</p>
	{#if task.trouble}<p class="problem">{task.trouble}</p>{/if}
	<Trouble problem={act.problem} />
	{#if allowed.length}
		<div class="buttons">
			{#each allowed as deed (deed)}
				<button class="btn do" onclick={() => act.run(deeds[deed].go)} disabled={act.running}
					>{deeds[deed].name}</button
				>
			{/each}
		</div>
	{/if}
</div>

{#if task.instructions}
	<section>
		<h2>What to do</h2>
		<p class="instructions">{task.instructions}</p>
	</section>
{/if}
<section>
	<h2>What you need to know</h2>
	<Answers answers={task.answers} request={task.request} />
</section>
{#each task.outputs as output (output.key)}
	<p class="output">{output.label}: <span class="mono">{output.text}</span></p>
{/each}

<style>
	section {
		margin-top: 1.4rem;
	}
	div.do {
		margin-top: 0.9rem;
		padding-block: 0.8rem;
		border-block: 1px solid var(--line-strong);
		display: grid;
		gap: 0.6rem;
	}
	.now {
		font: 600 1.1875rem var(--heading);
	}
	.since {
		font:
			0.875rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
		margin-left: 0.75rem;
	}
	.instructions {
		white-space: pre-line;
		max-width: 65ch;
		font-size: 1rem;
	}
	.output {
		margin-top: 1rem;
	}
</style>
