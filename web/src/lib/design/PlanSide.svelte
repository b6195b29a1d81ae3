<script lang="ts">
	import PlanChart from '$lib/ui/PlanChart.svelte';
	import { at } from '$lib/words';
	import Found from './Found.svelte';
	import Lines from './Lines.svelte';
	import Part from './Part.svelte';
	import { getEditor, move, setDrop } from './editor.svelte';
	import { waitsFor } from './plan/kinds';
	import TaskParts from './plan/TaskParts.svelte';
	import { getTrial } from './trial.svelte';
	import type { Schema } from '$lib/api/client';

	type Task = Schema['PlanTask'];
	const editor = getEditor();
	const trial = getTrial();
	const plan = $derived(editor.document.plan);
	const asks = $derived(editor.document.questions.filter((q) => q.kind !== 'statement'));
	const actions = $derived(
		editor.materials.connectors.flatMap((c) => c.actions.map((a) => `, by ${c.name}: ${a.name}`))
	);
	const teamName = (key: string) => editor.materials.teams.find((t) => t.key === key)?.name ?? 'no team yet';
	const nameOf = (key: string) => plan.find((t) => t.key === key)?.name ?? key;
	/** What was made of the last drop. */
	let dropped = $state('');

	/** A task that is dropped on another begins after it. */
	function drop(from: number, to: number) {
		const task = plan[from];
		const other = plan[to];
		if (!task || !other || task === other) return;
		if (task.after?.includes(other.key)) dropped = `“${task.name}” begins after “${other.name}” already.`;
		else if (waitsFor(plan, other.key, task.key))
			dropped = `“${other.name}” waits for “${task.name}”, so “${task.name}” cannot begin after it.`;
		else {
			task.after = [...(task.after ?? []), other.key];
			dropped = `“${task.name}” now begins after “${other.name}”.`;
		}
	}
	setDrop(drop);

	function add(line: Schema['LinesLine'], alone: boolean) {
		if (!line.task) return;
		plan.push(line.task);
		if (alone) editor.open[`/plan#${line.task.key}`] = true;
	}
	function remove(i: number) {
		const [gone] = plan.splice(i, 1);
		for (const task of plan) task.after = task.after?.filter((key) => key !== gone?.key);
	}
	const doneBy = (task: Task) =>
		({
			manual: teamName(task.team ?? ''),
			automatic: 'by itself',
			wait: 'a wait',
			message: 'a message'
		})[task.kind];
	const note = (task: Task) =>
		[
			doneBy(task),
			task.effort,
			task.each && 'for each',
			editor.when(task.when),
			task.after?.length && `after ${task.after.map(nameOf).join(' and ')}`
		]
			.filter(Boolean)
			.join(', ');
	const who = $derived(trial.form?.as.name ?? '');
	const chart = $derived(trial.form?.chart);
	const likely = $derived(trial.form?.result.forecast?.likely);
</script>

{#if plan.length === 0}<Found place="/plan" />{:else}
	<section class="chart" aria-label="The plan as it would go" data-chart>
		<p class="says">
			{#if likely}<strong data-likely>Likely done {at(likely)}</strong>{:else}<strong>As it would go</strong
				>{/if}
			<span class="soft small"
				>sent by {who}{trial.day ? ` on ${trial.day}` : ' now'}, answered as in the preview</span
			>
		</p>
		{#if chart}<PlanChart {chart} />{:else if trial.trouble}<p class="soft small">
				{trial.trouble}
			</p>{:else}<p class="soft small">It cannot be computed before what is found below is mended.</p>{/if}
	</section>
	<p class="hint">
		Drop a task on another by its grip, and it begins after it; or open it and tick what it begins after.
	</p>
{/if}
{#if dropped}<p class="small" role="status" data-dropped>{dropped}</p>{/if}
<ol>
	{#each plan as task, i (task.key)}
		<Part
			title={task.name || 'Without a name'}
			note={note(task)}
			place="/plan/{i}"
			part={task.key}
			at={i}
			of={plan.length}
			dropping="Drop it on the task it is to begin after"
			onmove={(step) => move(plan, i, step)}
			onremove={() => editor.remove(task.name, () => remove(i))}
		>
			<TaskParts {task} place="/plan/{i}" />
		</Part>
	{/each}
</ol>
<Lines
	side="plan"
	label="Another task, or many in lines"
	placeholder="Take photo, Keys & Badges, 2h, after Check record"
	button="Add task"
	field="new-task"
	inserts={[
		{ heading: 'team', words: editor.materials.teams.map((t) => `, ${t.name}`) },
		{ heading: 'after', words: [', at once', ...plan.map((t) => `, after ${t.name}`)] },
		{ heading: 'by a system', words: actions },
		{ heading: 'sees', words: [', sees all', ...asks.map((q) => `, sees ${q.label}`)] }
	]}
	examples={[
		'Take photo, Keys & Badges, 2h, after Check record',
		'Hand it over, 30m, due 1d, after Take photo and Write badge, sees all',
		'Order it, at once, when cost is more than 500',
		'Write badge, by Badge system: Write a badge'
	]}
	onadd={add}
/>

<style>
	.chart {
		border-block: 1px solid var(--line-strong);
		padding-block: 0.5rem;
	}
	.says {
		display: flex;
		flex-wrap: wrap;
		gap: 0 0.6rem;
		align-items: baseline;
		margin-bottom: 0.3rem;
	}
</style>
