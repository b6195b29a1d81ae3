<!-- How long a task takes, and by when it is due by itself. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Commas from '../Commas.svelte';
	import Fold from '../Fold.svelte';
	import Found from '../Found.svelte';
	import Moment from './Moment.svelte';

	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	type DueBy = '' | 'within' | 'moment';
	const dueBy = $derived<DueBy>(!task.due ? '' : task.due.within !== undefined ? 'within' : 'moment');
	function due(by: string) {
		const remind = task.due?.remind;
		task.due = by === '' ? undefined : by === 'within' ? { within: '4h', remind } : { of: 'today', remind };
	}
	const now = $derived(
		[
			task.effort && `${task.effort} of work`,
			task.due && (task.due.within ? `due within ${task.due.within}` : 'due at a moment')
		]
			.filter(Boolean)
			.join(', ')
	);
</script>

<Fold name="How long, and by when" {now} none={task.kind === 'manual' ? 'counted as 4h' : 'at once'}>
	<Field label="Working time it takes" hint="Such as 30m, 2h or 1d, in the calendar of its team.">
		<input
			class="input short"
			value={task.effort ?? ''}
			oninput={(e) => (task.effort = e.currentTarget.value || undefined)}
			maxlength="20"
			data-field="effort"
		/>
	</Field>
	<Field label="Due by itself">
		<select class="select short" value={dueBy} onchange={(e) => due(e.currentTarget.value)} data-field="due">
			<option value="">no: only the promise presses</option>
			<option value="within">so long after it can begin</option>
			<option value="moment">at a moment</option>
		</select>
	</Field>
	{#if task.due && dueBy === 'within'}
		<Field label="Working time from when it can begin">
			<input class="input short" bind:value={task.due.within} maxlength="20" data-field="within" />
		</Field>
	{:else if task.due}
		<Moment moment={task.due} own={task.key} place="{place}/due" />
	{/if}
	{#if task.due}
		<Commas
			label="Reminders, working time before"
			placeholder="1d, 2h"
			field="task-reminders"
			value={task.due.remind}
			onlist={(list) => task.due && (task.due.remind = list)}
		/>
	{/if}
	<Found place="{place}/due" />
	<Found place="{place}/effort" />
</Fold>

<style>
	.short {
		width: auto;
		max-width: 22rem;
	}
</style>
