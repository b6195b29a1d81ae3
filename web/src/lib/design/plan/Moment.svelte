<!-- An instant computed in working days from a date, or from the end of another task. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import ClockField from '$lib/ui/ClockField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from '../Found.svelte';
	import { getEditor } from '../editor.svelte';
	type Moment = Pick<Schema['PlanDue'], 'of' | 'task' | 'days' | 'at'>;
	/** own: key of the task it belongs to. */
	let { moment, own, place }: { moment: Moment; own: string; place: string } = $props();
	const editor = getEditor();
	const others = $derived(editor.document.plan.filter((t) => t.key !== own));

	function setTask(key: string) {
		moment.task = key || undefined;
		if (key) moment.of = undefined;
	}
	function setDays(days: number) {
		if (Number.isNaN(days)) return;
		moment.days = Math.trunc(days) || undefined;
	}
	const count = $derived(Math.abs(moment.days ?? 0));
	const before = $derived((moment.days ?? 0) < 0);
	/** Beside the days, so that 0 days can turn to before as well. */
	let turned = $state(false);
	const way = $derived(before || (turned && count === 0) ? 'before' : 'after');
</script>

<div class="row low">
	<Field label="Working days">
		<input
			class="input days"
			type="number"
			min="0"
			max="250"
			value={count}
			oninput={(e) => setDays(e.currentTarget.valueAsNumber * (way === 'before' ? -1 : 1))}
			data-field="days"
		/>
	</Field>
	<Field label="Before or after">
		<select
			class="select"
			value={way}
			onchange={(e) => {
				turned = e.currentTarget.value === 'before';
				setDays(count * (turned ? -1 : 1));
			}}
			data-field="way"
		>
			<option value="before">before</option>
			<option value="after">after</option>
		</select>
	</Field>
	<Field label="The end of a task, or a date">
		<select
			class="select"
			value={moment.task ?? ''}
			onchange={(e) => setTask(e.currentTarget.value)}
			data-field="moment-task"
		>
			<option value="">a date</option>
			{#each others as other (other.key)}<option value={other.key}>the end of {other.name}</option>{/each}
		</select>
	</Field>
	<Field label="Clock time">
		<ClockField
			value={moment.at ?? ''}
			control={{ 'data-field': 'clock' }}
			ontime={(time) => (moment.at = time || undefined)}
		/>
	</Field>
</div>
<Found place="{place}/days" />
<Found place="{place}/task" />
<Found place="{place}/at" />
{#if !moment.task}
	<Cel
		titled
		label="The date"
		place="{place}/of"
		value={moment.of ?? ''}
		rows={1}
		field="moment-of"
		onrule={(text) => (moment.of = text || undefined)}
	/>
{/if}

<style>
	.days {
		width: 5.5rem;
	}
	.select {
		width: auto;
		max-width: 17rem;
	}
</style>
