<!-- One promised time: how long or by which date, in which calendar, and for whom it holds. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import type { Schema } from '$lib/api/client';
	import DateField from '$lib/ui/DateField.svelte';
	import PersonField from '../PersonField.svelte';
	import ClockField from '$lib/ui/ClockField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Cel from '../Cel.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Rule from '../Rule.svelte';
	import Ticks from '../Ticks.svelte';
	import { datesOf } from './words';

	/** i: its place among the promises. */
	let { target, i }: { target: Schema['PromiseTarget']; i: number } = $props();
	const editor = getEditor();
	/** It stands open from the beginning, and does not close while one types. */
	const dated = untrack(() =>
		Boolean(target.validFrom ?? target.validUntil ?? target.review ?? target.owner)
	);
	const dates = $derived(datesOf(editor.document.questions));
</script>

<Field label="Name" hint="As people read it, such as Usual or Quick.">
	<input class="input" bind:value={target.name} maxlength="120" />
</Field>
<Field label="What it means, if the name does not say it">
	<input
		class="input"
		value={target.text ?? ''}
		oninput={(e) => (target.text = e.currentTarget.value || undefined)}
		maxlength="500"
		data-field="target-text"
	/>
</Field>
<label class="tick"
	><input
		type="checkbox"
		class="checkbox"
		checked={!target.off}
		onchange={(e) => (target.off = e.currentTarget.checked ? undefined : true)}
		data-field="target-on"
	/> It is switched on</label
>
<Field label="What is promised">
	<select
		class="select short"
		value={target.readyBy ? 'day' : 'time'}
		onchange={(e) => {
			target.readyBy =
				e.currentTarget.value === 'day' ? { of: dates[0] ? `answers.${dates[0].key}` : '' } : undefined;
			target.fulfilment = target.readyBy ? undefined : '5d';
		}}
		data-field="promised-as"
	>
		<option value="time">a working time</option>
		<option value="day">ready by a date of the answers</option>
	</select>
</Field>
{#if target.readyBy}
	{@const ready = target.readyBy}
	<div class="pair">
		<Field label="Ready for" hint="A date that the form asks for.">
			<select class="select" bind:value={ready.of} data-field="ready-of">
				{#if !dates.some((q) => ready.of === `answers.${q.key}`)}<option value={ready.of}
						>{ready.of || 'choose a date'}</option
					>{/if}
				{#each dates as question (question.key)}
					<option value="answers.{question.key}">{question.label}</option>
				{/each}
			</select>
		</Field>
		<Field label="Working days before it">
			<input
				class="input"
				type="number"
				min="0"
				max="250"
				value={ready.days ?? 0}
				onchange={(e) => (ready.days = e.currentTarget.valueAsNumber || undefined)}
				data-field="ready-days"
			/>
		</Field>
		<Field label="At" hint="Empty: at its close, or at its opening when it is the date itself.">
			<ClockField
				value={ready.at ?? ''}
				control={{ 'data-field': 'ready-at' }}
				ontime={(time) => (ready.at = time || undefined)}
			/>
		</Field>
	</div>
	<Found place="/promise/targets/{i}/readyBy" />
{/if}
<div class="pair">
	{#if !target.readyBy}
		<Field label="Delivered within" hint="Working time: 5d for days, 8h for hours.">
			<input class="input" bind:value={target.fulfilment} maxlength="20" />
		</Field>
	{/if}
	<Field label="First word within" hint="Leave empty to promise none.">
		<input
			class="input"
			value={target.response ?? ''}
			oninput={(e) => (target.response = e.currentTarget.value || undefined)}
			maxlength="20"
		/>
	</Field>
</div>
<Found place="/promise/targets/{i}/fulfilment" />
<Found place="/promise/targets/{i}/response" />
<details open={dated}>
	<summary class="caption">When it is valid, and who answers for it</summary>
	<div class="pair">
		{#each [['validFrom', 'Sent from'], ['validUntil', 'Sent until'], ['review', 'Look at it again on']] as const as [key, label] (key)}
			<Field {label} several
				><DateField
					{label}
					value={target[key] ?? ''}
					control={{ 'data-field': `target-${key}` }}
					onday={(day) => (day || target[key]) && (target[key] = day || undefined)}
				/></Field
			>
			<Found place="/promise/targets/{i}/{key}" />
		{/each}
		<Field label="Who answers for it" hint="Empty: the owner of the service.">
			<PersonField
				label="Who answers for it"
				login={target.owner}
				field="target-owner"
				onlogin={(login) => (target.owner = login)}
			/>
		</Field>
		<Found place="/promise/targets/{i}/owner" />
	</div>
</details>
<details open={Boolean(target.calendar ?? target.from ?? target.until)}>
	<summary class="caption">More: its own calendar, from and until</summary>
	<div class="inner">
		<Field label="Working calendar">
			<select
				class="select short"
				value={target.calendar ?? ''}
				onchange={(e) => (target.calendar = e.currentTarget.value || undefined)}
				data-field="target-calendar"
			>
				<option value="">the calendar above</option>
				{#each editor.materials.calendars as calendar (calendar.key)}
					<option value={calendar.key}>{calendar.name}</option>
				{/each}
			</select>
		</Field>
		<Found place="/promise/targets/{i}/calendar" />
		<div>
			<Cel
				titled
				label="Runs from"
				place="/promise/targets/{i}/from"
				value={target.from ?? ''}
				rows={1}
				field="target-from"
				onrule={(text) => (target.from = text || undefined)}
			/>
			<p class="hint">A date or an instant in CEL. Empty: the start of the clock.</p>
		</div>
		<Found place="/promise/targets/{i}/from" />
		<Ticks
			label="Runs until these have ended"
			hint="None: until it is delivered."
			none="There are no tasks yet."
			things={editor.document.plan}
			list={target.until}
			field="until"
			onlist={(list) => (target.until = list)}
		/>
		<Found place="/promise/targets/{i}/until" />
	</div>
</details>
<Rule
	begins="Holds"
	without="for everybody"
	place="/promise/targets/{i}/when"
	value={target.when}
	onrule={(rule) => (target.when = rule || undefined)}
/>

<style>
	.inner {
		display: grid;
		gap: 0.6rem;
		padding: 0.5rem 0 0.5rem 1rem;
	}
	.short {
		max-width: 16rem;
	}
</style>
