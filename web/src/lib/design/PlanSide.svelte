<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddLine from './AddLine.svelte';
	import Cel from './Cel.svelte';
	import Field from './Field.svelte';
	import Found from './Found.svelte';
	import Part from './Part.svelte';
	import Rule from './Rule.svelte';
	import { getEditor, keyFrom, move, setDrop } from './editor.svelte';

	type Task = Schema['PlanTask'];
	const editor = getEditor();
	const plan = $derived(editor.document.plan);
	const teamName = (key: string) => editor.portfolio.teams.find((t) => t.key === key)?.name ?? 'no team yet';
	setDrop((from, to) => move(plan, from, to - from));

	const actions = $derived(
		editor.portfolio.connectors.flatMap((c) =>
			c.actions.map((a) => ({ id: `${c.key}.${a.key}`, connector: c, action: a }))
		)
	);

	function add(words: string) {
		const key = keyFrom(
			words,
			plan.map((t) => t.key),
			'task'
		);
		plan.push({ key, name: words, kind: 'manual', team: '' });
		editor.open[`/plan#${key}`] = true;
	}
	function remove(i: number) {
		const [gone] = plan.splice(i, 1);
		for (const task of plan) task.after = task.after?.filter((key) => key !== gone?.key);
	}
	function become(task: Task, kind: Task['kind']) {
		task.kind = kind;
		if (kind === 'manual') delete task.action;
		else if (actions[0]) call(task, actions[0].id);
	}
	function call(task: Task, id: string) {
		const chosen = actions.find((a) => a.id === id);
		if (chosen)
			task.action = {
				connector: chosen.connector.key,
				do: chosen.action.key,
				inputs: task.action?.inputs ?? {}
			};
	}
	const inputsOf = (task: Task) =>
		actions.find((a) => a.id === `${task.action?.connector}.${task.action?.do}`)?.action.inputs ?? [];
	const has = (list: string[] | undefined, key: string) => list?.includes(key) ?? false;
	const withKey = (list: string[] | undefined, key: string, on: boolean) =>
		on ? [...(list ?? []), key] : (list ?? []).filter((k) => k !== key);
</script>

{#if plan.length === 0}<Found place="/plan" />{/if}
<ol>
	{#each plan as task, i (task.key)}
		<Part
			title={task.name || 'Without a name'}
			note={`${task.kind === 'automatic' ? 'by itself' : teamName(task.team ?? '')}${task.after?.length ? `, after ${task.after.map((k) => plan.find((t) => t.key === k)?.name ?? k).join(' and ')}` : ''}`}
			place="/plan/{i}"
			part={task.key}
			at={i}
			of={plan.length}
			onmove={(step) => move(plan, i, step)}
			onremove={() => editor.remove(task.name, () => remove(i))}
		>
			<div class="pair">
				<Field label="Task"><input class="input" bind:value={task.name} maxlength="200" /></Field>
				<Field label="Done">
					<select
						class="select"
						value={task.kind}
						onchange={(e) => become(task, e.currentTarget.value as Task['kind'])}
						data-field="kind"
					>
						<option value="manual">by people</option>
						<option value="automatic">by itself</option>
					</select>
				</Field>
			</div>
			<Field label={task.kind === 'automatic' ? 'Team that helps when it is stuck' : 'Team'}>
				<select class="select short" bind:value={task.team} data-field="team">
					<option value="" disabled>choose</option>
					{#each editor.portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option
						>{/each}
				</select>
			</Field>
			{#if plan.length > 1}
				<fieldset>
					<legend class="caption">Begins after</legend>
					<div class="ticks">
						{#each plan.filter((t) => t.key !== task.key) as other (other.key)}
							<label
								><input
									type="checkbox"
									class="checkbox"
									data-after={other.key}
									checked={has(task.after, other.key)}
									onchange={(e) => (task.after = withKey(task.after, other.key, e.currentTarget.checked))}
								/>
								{other.name}</label
							>
						{/each}
					</div>
				</fieldset>
			{/if}
			{#if task.kind === 'automatic'}
				<Field label="What it does">
					<select
						class="select short"
						value="{task.action?.connector}.{task.action?.do}"
						data-field="action"
						onchange={(e) => call(task, e.currentTarget.value)}
					>
						{#each actions as a (a.id)}<option value={a.id}>{a.connector.name}: {a.action.name}</option
							>{/each}
					</select>
				</Field>
				{#each inputsOf(task) as input (input.key)}
					<div>
						<p class="caption">{input.name}</p>
						<Cel
							label={input.name}
							place="/plan/{i}/action/inputs/{input.key}"
							value={task.action?.inputs?.[input.key] ?? ''}
							text
							rows={1}
							field="input-{input.key}"
							onrule={(text) =>
								task.action && (task.action.inputs = { ...task.action.inputs, [input.key]: text })}
						/>
					</div>
				{/each}
			{:else}
				<fieldset>
					<legend class="caption">Answers the team sees</legend>
					<div class="ticks">
						{#each editor.document.questions as question (question.key)}
							<label
								><input
									type="checkbox"
									class="checkbox"
									data-slice={question.key}
									checked={has(task.slice, question.key)}
									onchange={(e) => (task.slice = withKey(task.slice, question.key, e.currentTarget.checked))}
								/>
								{question.label}</label
							>
						{:else}
							<span class="soft small">There are no questions yet.</span>
						{/each}
					</div>
				</fieldset>
				<div>
					<p class="caption">Instructions</p>
					<Cel
						label="Instructions"
						place="/plan/{i}/instructions"
						value={task.instructions ?? ''}
						text
						field="instructions"
						onrule={(text) => (task.instructions = text || undefined)}
					/>
				</div>
			{/if}
			<Rule
				begins="Done"
				without="always"
				place="/plan/{i}/when"
				value={task.when}
				onrule={(rule) => (task.when = rule)}
			/>
		</Part>
	{/each}
</ol>
<AddLine
	label="Another task"
	placeholder="What is to be done?"
	button="Add task"
	field="new-task"
	onadd={add}
/>

<style>
	.pair {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 9rem;
		gap: 0.75rem;
	}
	.short {
		width: auto;
		max-width: 20rem;
	}
	.ticks {
		display: flex;
		flex-wrap: wrap;
		gap: 0.1rem 1.1rem;
	}
	.ticks label {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
</style>
