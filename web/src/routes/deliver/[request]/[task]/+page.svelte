<!-- One task with only the answers it needs, and all that can be done with it now. -->
<script lang="ts">
	import { tick as settle } from 'svelte';
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import Calls from '$lib/deliver/Calls.svelte';
	import HandOver from '$lib/deliver/HandOver.svelte';
	import Said from '$lib/deliver/Said.svelte';
	import State from '$lib/deliver/State.svelte';
	import TellingDialog, { type Telling } from '$lib/deliver/Telling.svelte';
	import { typed } from '$lib/deliver/typed.svelte';
	import Waive from '$lib/deliver/Waive.svelte';
	import Work from '$lib/deliver/Work.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Dial from '$lib/ui/Dial.svelte';
	import Heard from '$lib/ui/Heard.svelte';
	import OnMyList from '$lib/ui/OnMyList.svelte';
	import PlanChart from '$lib/ui/PlanChart.svelte';
	import RunNow from '$lib/ui/RunNow.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { answerText } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const task = $derived(data.task);
	const path = $derived({ request: page.params.request ?? '', task: page.params.task ?? '' });
	const params = $derived({ path });
	const mine = $derived(typed.of(path));
	const may = (deed: (typeof task.allowed)[number]) => task.allowed.includes(deed);
	const left = $derived(task.mustDos.filter((m) => !m.done).length);

	const go = {
		take: () => unwrap(api.POST('/api/tasks/{request}/{task}/take', { params })),
		retry: () => unwrap(api.POST('/api/tasks/{request}/{task}/retry', { params })),
		complete: () =>
			unwrap(
				api.POST('/api/tasks/{request}/{task}/complete', {
					params,
					body: { word: mine.word, outputs: mine.outputs }
				})
			)
	};
	/** Ends the task; when something is missing, focus goes to the first place. */
	async function complete() {
		if (await act.run(go.complete)) {
			typed.drop(path);
			return;
		}
		const place = act.problem?.errors?.[0]?.place ?? '';
		const [, part = '', key = ''] = place.split('/');
		const field = ({ mustDos: 'point', lines: 'line', outputs: 'output-field' } as Record<string, string>)[
			part
		];
		await settle();
		document
			.querySelector<HTMLElement>(field ? `[data-${field}="${key}"]` : '[data-field="closing"]')
			?.focus();
	}
	// What needs a text: one dialog for all of them.
	let dialog = $state(false);
	let telling = $state<Telling>('ask');
	function tell(what: Telling) {
		telling = what;
		dialog = true;
	}
	const unask = () => act.run(() => unwrap(api.POST('/api/tasks/{request}/{task}/unask', { params })));
	let handing = $state(false);
	let waiving = $state(false);
</script>

<svelte:head><title>{task.name} · Heptad</title></svelte:head>
<div class="head">
	<div>
		<p class="eyebrow"><span class="mono">{task.reference}</span> · {task.team}</p>
		<h1>{task.name}</h1>
		<p class="soft">
			{[`${task.title}, for ${task.for}`, task.effort && `takes ${task.effort}`].filter(Boolean).join(' · ')}
		</p>
	</div>
	<Dial stages={task.stages} yours={false} closed={task.status === 'closed'} size={64} />
</div>

<div class="do" data-state={task.state}>
	<State {task} />
	{#if task.trouble}<p class="problem">{task.trouble}</p>{/if}
	{#if task.word}<blockquote data-word>{task.word}</blockquote>{/if}
	{#if task.undoText}<p data-undo>{task.undoText}</p>{/if}
	{#if task.question}
		<blockquote>{task.question.by} asked: {task.question.text}</blockquote>
	{/if}
	<Work {task} {act} {path} />
	<Trouble problem={act.problem} />
	{#if task.allowed.length}
		<div class="buttons">
			{#if may('take')}<button class="btn do" onclick={() => act.run(go.take)} disabled={act.running}
					>Take</button
				>{/if}
			{#if may('retry')}<button class="btn do" onclick={() => act.run(go.retry)} disabled={act.running}
					>{task.automatic ? 'Try again' : 'Go on'}</button
				>{/if}
			{#if may('complete')}<button
					class="btn {may('retry') ? 'plain' : 'do'}"
					onclick={complete}
					disabled={act.running}
					>{task.undo
						? 'Taken back'
						: task.state === 'stuck' || task.accepted
							? 'Done by hand'
							: 'Done'}</button
				>{/if}
			{#if may('askAsker')}<button class="btn plain" onclick={() => tell('ask')} data-do="ask"
					>Ask {task.asker}</button
				>{/if}
			{#if may('handOver')}<button class="btn plain" onclick={() => (handing = true)} data-do="hand-over"
					>Hand over</button
				>{/if}
			{#if may('getStuck')}<button class="btn quiet" onclick={() => tell('stuck')} data-do="stuck"
					>Stuck</button
				>{/if}
			{#if may('waive')}<button class="btn quiet" onclick={() => (waiving = true)}>Begin earlier</button>{/if}
			{#if may('hear')}<Heard request={path.request} task={path.task} people={task.mayAnswer} />{/if}
			{#if may('unask')}<button class="btn quiet" onclick={unask} disabled={act.running} data-do="unask"
					>Take the question back</button
				>{/if}
			{#if may('skip')}<button class="btn quiet" onclick={() => tell('skip')} data-do="skip">Leave out</button
				>{/if}
			{#if may('doubt')}<button class="btn quiet" onclick={() => tell('doubt')} data-do="doubt"
					>Not eligible</button
				>{/if}
			{#if may('complete') && left > 0 && !task.undo}<span class="soft small" data-why-not
					>{left === 1 ? 'One point is' : `${left} points are`} still to be ticked.</span
				>{/if}
		</div>
	{/if}
</div>

<RunNow
	request={path.request}
	runs={task.runs}
	then={may('complete') && task.state === 'taken' ? path.task : undefined}
/>

<OnMyList
	request={path.request}
	task={path.task}
	asker={task.asker}
	due={task.state !== 'done'}
	wait={task.state === 'ready' && !task.team}
/>

{#if task.instructions}
	<section>
		<h2>What to do</h2>
		<p class="instructions">{task.instructions}</p>
	</section>
{/if}
{#if task.answers.length}
	<section>
		<h2>What you need to know</h2>
		<Answers answers={task.answers} request={task.request} task={task.key} />
	</section>
{/if}
{#if task.calls?.length}<Calls {task} {act} {path} />{/if}
{#each task.outputs as output (output.key)}
	<p class="output">
		{output.label}:
		{#if output.files?.[0]}<a
				href="/api/requests/{task.request}/files/{output.files[0].id}"
				download={output.text}
				data-output={output.key}>{output.text}</a
			>{:else}<span class="mono" data-output={output.key}>{answerText(output.text)}</span>{/if}
	</p>
{/each}
{#if task.chart}
	<section>
		<h2>The whole plan</h2>
		<PlanChart chart={task.chart} here={task.key} />
	</section>
{/if}
<Said {task} replies={data.replies.entries} {act} {path} />

<TellingDialog bind:open={dialog} {telling} {act} {path} />
<HandOver bind:open={handing} {task} {act} {path} />
<Waive bind:open={waiving} {task} {act} {path} />

<style>
	section {
		margin-top: 1.4rem;
	}
	.head {
		display: flex;
		justify-content: space-between;
		gap: 1rem;
	}
	div.do {
		margin-top: 0.9rem;
		padding-block: 0.8rem;
		border-block: 1px solid var(--line-strong);
		display: grid;
		gap: 0.6rem;
	}
	.instructions {
		white-space: pre-line;
		max-width: 65ch;
		font-size: 1rem;
	}
	.output {
		margin-top: 1rem;
	}
	blockquote {
		border-left: 4px solid var(--buoy);
		padding: 0.2rem 0.75rem;
		white-space: pre-wrap;
	}
</style>
