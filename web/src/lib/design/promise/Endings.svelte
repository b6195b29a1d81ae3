<!-- How a request closes, what happens when it is not right, and how it is rated. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import ClockField from '$lib/ui/ClockField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Commas from '../Commas.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Many from '../Many.svelte';
	import Ticks from '../Ticks.svelte';
	import Heading from './Heading.svelte';
	const editor = getEditor();
	const promise = $derived(editor.document.promise);
	/** Says what happens when it is sent back; nothing said is left out. */
	function right(change: Partial<Schema['PromiseRight']>) {
		const { team, tasks, undo } = { ...promise.right, ...change };
		promise.right =
			team || tasks?.length ? { team, tasks, undo: tasks?.length ? undo : undefined } : undefined;
	}
	function rates(change: Partial<Schema['PromiseRating']>) {
		const { at, pooled, asks } = { ...promise.rating, ...change };
		const usual = !at || at === 'closing';
		promise.rating =
			usual && !pooled && !asks?.length ? undefined : { at: usual ? undefined : at, pooled, asks };
	}
</script>

{#snippet days(
	of: 'confirmWithin' | 'answerWithin' | 'backWithin',
	label: string,
	hint: string,
	least: number
)}
	<Field {label} {hint}>
		<input
			class="input short"
			type="number"
			min={least}
			max="250"
			value={promise[of] ?? editor.materials.usual[of]}
			oninput={(e) =>
				Number.isInteger(e.currentTarget.valueAsNumber) && (promise[of] = e.currentTarget.valueAsNumber)}
		/>
	</Field>
	<Found place="/promise/{of}" />
{/snippet}

{#snippet clock(of: 'confirmAt' | 'answerAt', label: string)}
	<Field {label} hint="Empty: at the time of day at which it began.">
		<ClockField
			value={promise[of] ?? ''}
			control={{ 'data-field': of }}
			ontime={(time) => (time || promise[of]) && (promise[of] = time || undefined)}
		/>
	</Field>
	<Found place="/promise/{of}" />
{/snippet}

<Heading>How it closes</Heading>
{@render days(
	'confirmWithin',
	'Working days to confirm',
	'If the asker says nothing, the request closes as fulfilled after so many. 0 closes on delivery.',
	0
)}
{@render clock('confirmAt', 'At this clock time of the last of them')}
{@render days(
	'answerWithin',
	'Working days to answer a question',
	'If the asker does not answer what an approver asked back, the request expires after so many.',
	1
)}
{@render clock('answerAt', 'At this clock time of the last of them')}

<Commas
	label="Reminded after, in per cent of either"
	hint="Until they have confirmed or answered; 60 when nothing is said."
	field="promise-reminders"
	value={(promise.remind ?? []).map(String)}
	placeholder="50, 80"
	onlist={(list) => {
		const all = (list ?? []).map(Number).filter(Number.isInteger);
		promise.remind = all.length ? all : undefined;
	}}
/>
{#each promise.remind ?? [] as share, i (share)}<Found place="/promise/remind/{i}" />{/each}

<div class="pair">
	<Field label="More urgency, asked for later" hint="A choice of the form that the promise hangs on.">
		<select
			class="select"
			value={promise.urge?.question ?? ''}
			onchange={(e) =>
				(promise.urge = e.currentTarget.value ? { question: e.currentTarget.value, choices: [] } : undefined)}
			data-field="urge-question"
		>
			<option value="">askers cannot ask for it</option>
			{#each editor.document.questions.filter((q) => q.kind === 'choice') as question (question.key)}
				<option value={question.key}>{question.label}</option>
			{/each}
		</select>
	</Field>
	{#if promise.urge}
		{@const urge = promise.urge}
		<Ticks
			label="They can change to"
			none="It has no choices."
			things={(editor.document.questions.find((q) => q.key === urge.question)?.choices ?? []).map((c) => ({
				key: c.key,
				name: c.label
			}))}
			list={urge.choices}
			field="urge-choice"
			onlist={(list) => (urge.choices = list ?? [])}
		/>
	{/if}
</div>
<Found place="/promise/urge/question" />
<Field
	label="What comes next"
	hint="The asker reads it when all is done, such as: Your badge can be extended from 1 May."
>
	<input
		class="input"
		value={promise.next ?? ''}
		oninput={(e) => (promise.next = e.currentTarget.value || undefined)}
		maxlength="1000"
		data-field="next"
	/>
</Field>
<Found place="/promise/next" />

<Commas
	label="Reasons to cancel"
	hint="Staff who cancel a request choose one, and can add words. None: words alone."
	placeholder="Asked twice, Not possible here"
	field="cancel-reasons"
	value={promise.reasons}
	onlist={(list) => (promise.reasons = list)}
/>
<Commas
	label="Reasons to take it back"
	hint="The asker can choose one. None: in their words, if they like."
	placeholder="Not needed any more, Asked twice"
	field="asker-reasons"
	value={promise.askerReasons}
	onlist={(list) => (promise.askerReasons = list)}
/>

<Heading>When it is not right</Heading>
{@render days(
	'backWithin',
	'Working days to send it back once it is closed',
	'Until it is confirmed it can always be sent back. 0: not once it is closed.',
	0
)}
<Field label="Who puts it right" hint="Their task has the asker's words; the promised time goes on.">
	<select
		class="select short"
		value={promise.right?.team ?? ''}
		onchange={(e) => right({ team: e.currentTarget.value || undefined })}
		data-field="right-team"
	>
		<option value="">the home team of the service</option>
		{#each editor.materials.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
	</select>
</Field>
<Found place="/promise/right/team" />
<Ticks
	label="Or these are done again, in their order"
	hint="In place of a task for that team. Each is a new one, with what comes out of it in place of what came before."
	none="There are no tasks yet."
	things={editor.document.plan}
	list={promise.right?.tasks}
	field="right-tasks"
	onlist={(list) => right({ tasks: list })}
/>
<Found place="/promise/right/tasks" />
{#if promise.right?.tasks?.length}
	<label class="tick"
		><input
			type="checkbox"
			class="checkbox"
			checked={promise.right.undo ?? false}
			onchange={(e) => right({ undo: e.currentTarget.checked || undefined })}
			data-field="right-undo"
		/> what they did is taken back first, where the plan says how</label
	>
{/if}

<Heading>How it went</Heading>
<div class="pair">
	<Field label="The asker can rate it" hint="From one to five, with a word; changed for fourteen days.">
		<select
			class="select"
			value={promise.rating?.at || 'closing'}
			onchange={(e) => rates({ at: e.currentTarget.value as 'closing' })}
			data-field="rating-at"
		>
			<option value="closing">once it is closed</option>
			<option value="delivery">from delivery on</option>
			<option value="never">not at all</option>
		</select>
	</Field>
	<label class="tick"
		><input
			type="checkbox"
			class="checkbox"
			checked={promise.rating?.pooled ?? false}
			disabled={promise.rating?.at === 'never'}
			onchange={(e) => rates({ pooled: e.currentTarget.checked || undefined })}
			data-field="rating-pooled"
		/> staff see only what is pooled, of five and more</label
	>
</div>
<Found place="/promise/rating/at" />
{#if promise.rating?.at !== 'never'}
	<Field
		label="And asks beside it"
		hint="One question a line, five at most; who likes answers from one to five."
	>
		<Many
			rows={2}
			field="rating-asks"
			value={promise.rating?.asks ?? []}
			onlist={(asks) => rates({ asks: asks.length ? asks : undefined })}
		/>
	</Field>
	{#each promise.rating?.asks ?? [] as asks, i (asks)}<Found place="/promise/rating/asks/{i}" />{/each}
{/if}

<style>
	.short {
		max-width: 16rem;
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
