<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddLine from './AddLine.svelte';
	import Commas from './Commas.svelte';
	import ClockField from '$lib/ui/ClockField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import Part from './Part.svelte';
	import Marks from './promise/Marks.svelte';
	import OwnMessages from './promise/OwnMessages.svelte';
	import Target from './promise/Target.svelte';
	import { inWords, readyWords } from './promise/words';
	import Ticks from './Ticks.svelte';
	import { getEditor, move, setDrop } from './editor.svelte';
	import { getTrial } from './trial.svelte';
	const editor = getEditor();
	const promise = $derived(editor.document.promise);
	const trial = getTrial();
	/** The promise that counts for whom the preview is tried as. */
	const counts = $derived(trial.form?.result.promised?.name);
	const zones = Intl.supportedValuesOf('timeZone');
	setDrop((from, to) => reorder((list) => move(list, from, to - from)));
	/** Promises have no key: which of them stand open moves with them. */
	function reorder(change: (list: unknown[]) => void) {
		const targets = promise.targets ?? [];
		const id = (i: number) => `/promise/targets#${i}`;
		const open = targets.map((_, i) => editor.open[id(i)] ?? false);
		change(targets);
		change(open);
		open.forEach((is, i) => (editor.open[id(i)] = is));
	}

	function add(name: string) {
		promise.targets = [...(promise.targets ?? []), { name, fulfilment: '5d' }];
		editor.open[`/promise/targets#${promise.targets.length - 1}`] = true;
	}
	/** Says what happens when it is sent back; nothing said is left out. */
	function right(change: Partial<Schema['PromiseRight']>) {
		const { team, tasks } = { ...promise.right, ...change };
		promise.right = team || tasks?.length ? { team, tasks } : undefined;
	}
	function rates(change: Partial<Schema['PromiseRating']>) {
		const { at, pooled } = { ...promise.rating, ...change };
		const usual = !at || at === 'closing';
		promise.rating = usual && !pooled ? undefined : { at: usual ? undefined : at, pooled };
	}
	type Promise = Schema['PromisePromise'];
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
			value={promise[of] ?? editor.portfolio.usual[of]}
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

<div class="pair">
	<Field label="Working calendar" hint="The promise and working days in rules are computed in it.">
		<select
			class="select"
			value={promise.calendar ?? ''}
			onchange={(e) => (promise.calendar = e.currentTarget.value || undefined)}
			data-field="calendar"
		>
			<option value="">Monday to Friday, all day</option>
			{#each editor.portfolio.calendars as calendar (calendar.key)}
				<option value={calendar.key}>{calendar.name}</option>
			{/each}
		</select>
	</Field>
	{#if !promise.calendar}
		<Field label="Time zone" hint="What “today” means in the rules is computed here.">
			<input class="input" list="zones" bind:value={promise.zone} />
		</Field>
		<datalist id="zones"
			>{#each zones as zone (zone)}<option value={zone}></option>{/each}</datalist
		>
	{/if}
</div>
<Found place="/promise/calendar" />
<Found place="/promise/zone" />
<p class="small"><a href="/design/calendars?key={promise.calendar ?? ''}">See and change the calendars</a></p>

<h2 class="group">The clock</h2>
<div class="pair">
	<Field label="It starts" hint="From the sending, people see the whole time they wait.">
		<select
			class="select"
			value={promise.starts ?? 'sending'}
			onchange={(e) =>
				(promise.starts =
					e.currentTarget.value === 'sending' ? undefined : (e.currentTarget.value as Promise['starts']))}
			data-field="starts"
		>
			<option value="sending">when it is sent</option>
			<option value="decision">when it is decided</option>
		</select>
	</Field>
	<Field
		label="Sent after this clock time"
		hint="Counts from the next working day. Empty: any time counts at once."
	>
		<ClockField
			value={promise.cutOff ?? ''}
			control={{ 'data-field': 'cut-off' }}
			ontime={(time) => (promise.cutOff = time || undefined)}
		/>
	</Field>
</div>
<Found place="/promise/starts" />
<Found place="/promise/cutOff" />
<Ticks
	label="It stands still during"
	hint="And always while a question waits for the asker."
	none="There are no tasks yet."
	things={editor.document.plan}
	list={promise.pauses}
	field="pauses"
	onlist={(list) => (promise.pauses = list)}
/>
<Found place="/promise/pauses" />

<h2 class="group">Promised times</h2>
{#if !promise.targets?.length}
	<p class="soft">No time is promised yet. The first that fits a request holds for it.</p>
{:else}
	<ol>
		{#each promise.targets as target, i (target)}
			<Part
				title="{i + 1}. {target.name}"
				note="{target.off ? 'switched off: ' : ''}{target.readyBy
					? `ready ${readyWords(target.readyBy, editor.document.questions)}`
					: `delivered within ${inWords(target.fulfilment)}`}{target.when
					? `, ${editor.when(target.when)}`
					: ', for everybody'}{target.name === counts
					? `. Counts for ${trial.form?.as.name}, as in the preview`
					: ''}"
				place="/promise/targets/{i}"
				part={String(i)}
				at={i}
				of={promise.targets.length}
				onmove={(step) => reorder((list) => move(list, i, step))}
				onremove={() => editor.remove(target.name, () => reorder((list) => list.splice(i, 1)))}
			>
				<Target {target} {i} />
			</Part>
		{/each}
	</ol>
{/if}
<Found place="/promise/targets" />
<AddLine label="Another promise" placeholder="Quick" button="Add promise" field="new-promise" onadd={add} />

<Marks />

<h2 class="group">How it closes</h2>
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

<Commas
	label="Reasons to cancel"
	hint="Staff who cancel a request choose one, and can add words. None: words alone."
	placeholder="Asked twice, Not possible here"
	field="cancel-reasons"
	value={promise.reasons}
	onlist={(list) => (promise.reasons = list)}
/>

<h2 class="group">When it is not right</h2>
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
		{#each editor.portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
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

<h2 class="group">How it went</h2>
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

<OwnMessages />

<style>
	.group {
		border-top: 2px solid var(--ink);
		margin-top: 0.75rem;
		padding-top: 0.6rem;
	}
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
