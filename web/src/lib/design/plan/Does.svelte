<!-- What a task does by itself: a call, a wait, or a message. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Cel from '../Cel.svelte';
	import Commas from '../Commas.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Rule from '../Rule.svelte';
	import Call from './Call.svelte';
	import { actionType } from './kinds';
	import Moment from './Moment.svelte';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	type WaitBy = 'moment' | 'holds';
	const waitBy = $derived<WaitBy>(task.wait?.holds !== undefined ? 'holds' : 'moment');
	function call(next: Schema['PlanAction'] | undefined) {
		task.action = next;
		const chosen = actionType(editor.materials.connectors, next);
		// what takes it back is known with the action, until somebody chooses otherwise
		if (next && chosen?.undo && !task.undo?.text)
			task.undo = { action: { connector: next.connector, do: chosen.undo, inputs: {} } };
		if (chosen && !chosen.free) task.outputs = undefined;
	}
</script>

{#if task.kind === 'automatic'}
	<Call label="What it does" place="{place}/action" action={task.action} field="action" onaction={call} />
	<label class="tick"
		><input
			type="checkbox"
			class="checkbox"
			checked={task.onDemand ?? false}
			onchange={(e) => (task.onDemand = e.currentTarget.checked || undefined)}
			data-field="on-demand"
		/> no step of the plan: staff start it when they need it, and type what is left empty above</label
	>
	<Found place="{place}/onDemand" />
	<Commas
		label="When it fails, it is tried again after"
		hint="Such as 5s, 1m, 10m. After the last it is stuck, and its team helps. Empty: 1s, 5s, 20s, 2m, 10m."
		field="tries"
		value={task.tries}
		onlist={(list) => (task.tries = list)}
	/>
	<Found place="{place}/tries" />
{:else if task.kind === 'wait' && task.wait}
	<Field label="It ends">
		<select
			class="select short"
			value={waitBy}
			onchange={(e) => (task.wait = e.currentTarget.value === 'holds' ? { holds: '' } : { of: 'today' })}
			data-field="wait"
		>
			<option value="moment">at a moment</option>
			<option value="holds">as soon as a rule holds</option>
		</select>
	</Field>
	<Found place="{place}/wait" />
	{#if waitBy === 'moment'}
		<Moment moment={task.wait} own={task.key} place="{place}/wait" />
	{:else}
		<Rule
			begins="Ends"
			place="{place}/wait/holds"
			value={task.wait.holds}
			onrule={(rule) => task.wait && (task.wait.holds = rule)}
		/>
	{/if}
	<Field label="Working days are those of">
		<select
			class="select short"
			value={task.team ?? ''}
			onchange={(e) => (task.team = e.currentTarget.value || undefined)}
			data-field="wait-team"
		>
			<option value="">the promise</option>
			{#each editor.materials.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
		</select>
	</Field>
{:else if task.kind === 'message' && task.words}
	<Field label="It is written to">
		<select class="select short" bind:value={task.words.to} data-field="message-to">
			<option value="asker">who asks</option>
			<option value="beneficiary">who it is for</option>
			<option value="followers">those who follow it</option>
			<option value="team">a team</option>
		</select>
	</Field>
	<Cel
		titled
		label="Subject"
		place="{place}/words/subject"
		value={task.words.subject}
		text
		rows={1}
		field="message-subject"
		onrule={(text) => task.words && (task.words.subject = text)}
	/>
	<Cel
		titled
		label="Text"
		place="{place}/words/text"
		value={task.words.text}
		text
		field="message-text"
		onrule={(text) => task.words && (task.words.text = text)}
	/>
{/if}

<style>
	.short {
		width: auto;
		max-width: 22rem;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.tick .checkbox {
		flex: none;
	}
</style>
