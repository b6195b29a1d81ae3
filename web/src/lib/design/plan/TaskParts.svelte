<!-- All that a task has: who does it, after what, with which answers, by when, and what comes of it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Rule from '../Rule.svelte';
	import Ticks from '../Ticks.svelte';
	import Does from './Does.svelte';
	import { become, taskKinds } from './kinds';
	import Reads from './Reads.svelte';
	import Repeats from './Repeats.svelte';
	import Results from './Results.svelte';
	import Routes from './Routes.svelte';
	import Stuck from './Stuck.svelte';
	import Timing from './Timing.svelte';
	import Undoing from './Undoing.svelte';
	import Uses from './Uses.svelte';

	type Task = Schema['PlanTask'];
	let { task, place }: { task: Task; place: string } = $props();
	const editor = getEditor();
	const plan = $derived(editor.document.plan);
	const worked = $derived(task.kind === 'manual' || task.kind === 'automatic');
</script>

<div class="pair">
	<Field label="Task"
		><input class="input" bind:value={task.name} maxlength="200" data-field="task-name" /></Field
	>
	<Field label="Done">
		<select
			class="select"
			value={task.kind}
			onchange={(e) => become(task, e.currentTarget.value as Task['kind'])}
			data-field="kind"
		>
			{#each Object.entries(taskKinds) as [key, words] (key)}<option value={key}>{words}</option>{/each}
		</select>
	</Field>
</div>
{#if worked || (task.kind === 'message' && task.words?.to === 'team') || task.undo}
	<Field label={task.kind === 'automatic' ? 'Team that helps when it is stuck' : 'Team'}>
		<select
			class="select short"
			value={task.team ?? ''}
			onchange={(e) => (task.team = e.currentTarget.value)}
			data-field="team"
		>
			<option value="" disabled>choose</option>
			{#each editor.materials.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
		</select>
	</Field>
	<Found place="{place}/team" />
	{#if worked}<Routes {task} {place} />{/if}
{/if}
{#if plan.length > 1}
	<Ticks
		label="Begins after"
		none=""
		things={plan.filter((t) => t.key !== task.key)}
		list={task.after}
		field="after"
		onlist={(list) => (task.after = list)}
	/>
	<Found place="{place}/after" />
{/if}
<Rule
	begins="Done"
	without="always"
	place="{place}/when"
	value={task.when}
	onrule={(rule) => (task.when = rule || undefined)}
/>

<Does {task} {place} />
{#if worked}
	<Reads {task} {place} />
	<Timing {task} {place} />
	<Repeats {task} {place} />
	<Results {task} {place} />
	<Uses {task} {place} />
	<Stuck {task} {place} />
	<Undoing {task} {place} />
{/if}

<style>
	.short {
		width: auto;
		max-width: 22rem;
	}
</style>
