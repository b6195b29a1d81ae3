<!-- Whether a task is done once, for each of many, line by line, or confirmed by many. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { getEditor } from '../editor.svelte';
	import Fold from '../Fold.svelte';
	import Found from '../Found.svelte';
	import { askingForPeople } from '../sources';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	const questions = $derived(editor.document.questions.filter((q) => q.kind !== 'statement'));
	const lists = $derived(questions.filter((q) => ['items', 'table', 'choices'].includes(q.kind)));
	const people = $derived(askingForPeople(questions));
	const listName = (key: string | undefined) =>
		key === 'belongings' ? 'each thing they have' : (questions.find((q) => q.key === key)?.label ?? key);
	function ask(many: string) {
		const [kind, key = ''] = many.split(' ');
		const before = { enough: task.people?.enough ?? 'all', silence: task.people?.silence };
		task.people = !many
			? undefined
			: kind === 'team'
				? { ...before, team: key }
				: { ...before, question: key };
	}
	const now = $derived(
		[
			task.each && `for ${listName(task.each)}`,
			task.lines && `line by line of ${listName(task.lines)}`,
			task.people && 'many confirm'
		]
			.filter(Boolean)
			.join(', ')
	);
</script>

<Fold name="Once, or for each of many" {now} none="once">
	<Field label="One task for each of" hint="Rules and texts read the thing as each.name.">
		<select
			class="select short"
			value={task.each ?? ''}
			onchange={(e) => (task.each = e.currentTarget.value || undefined)}
			data-field="each"
		>
			<option value="">nothing: it is done once</option>
			{#each lists as q (q.key)}<option value={q.key}>{q.label}</option>{/each}
			<option value="belongings">the things they have</option>
		</select>
	</Field>
	<Field label="Done line by line" hint="So that three of five can be ticked as they come.">
		<select
			class="select short"
			value={task.lines ?? ''}
			onchange={(e) => (task.lines = e.currentTarget.value || undefined)}
			data-field="lines"
		>
			<option value="">no</option>
			{#each lists.filter((q) => q.kind !== 'choices') as q (q.key)}<option value={q.key}>{q.label}</option
				>{/each}
		</select>
	</Field>
	{#if task.kind === 'manual'}
		<Field label="Many confirm at once">
			<select
				class="select short"
				value={task.people?.question
					? `question ${task.people.question}`
					: task.people?.team
						? `team ${task.people.team}`
						: ''}
				onchange={(e) => ask(e.currentTarget.value)}
				data-field="many"
			>
				<option value="">no: one person does it</option>
				{#each people as q (q.key)}<option value="question {q.key}">each in {q.label}</option>{/each}
				{#each editor.materials.teams as team (team.key)}<option value="team {team.key}"
						>all of {team.name}</option
					>{/each}
			</select>
		</Field>
		{#if task.people}
			<div class="row">
				<Field label="Enough when" hint="all, any, a number or a share such as 50%.">
					<input class="input" bind:value={task.people.enough} maxlength="10" data-field="enough" />
				</Field>
				<Field label="Or after a silence of" hint="Working time such as 5d. Empty: it waits.">
					<input
						class="input"
						value={task.people.silence ?? ''}
						oninput={(e) => task.people && (task.people.silence = e.currentTarget.value || undefined)}
						maxlength="20"
					/>
				</Field>
			</div>
		{/if}
	{/if}
	<Found place="{place}/each" />
	<Found place="{place}/lines" />
	<Found place="{place}/people" />
</Fold>

<style>
	.short {
		width: auto;
		max-width: 22rem;
	}
</style>
