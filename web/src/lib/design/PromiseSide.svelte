<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddLine from './AddLine.svelte';
	import ClockField from '$lib/ui/ClockField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import Part from './Part.svelte';
	import Endings from './promise/Endings.svelte';
	import Marks from './promise/Marks.svelte';
	import OwnMessages from './promise/OwnMessages.svelte';
	import Target from './promise/Target.svelte';
	import { inWords, readyWords } from './promise/words';
	import Ticks from './Ticks.svelte';
	import { getEditor, move, setDrop } from './editor.svelte';
	import { getTrial } from './trial.svelte';
	import Heading from './promise/Heading.svelte';
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
	type Promise = Schema['PromisePromise'];
</script>

<div class="pair">
	<Field label="Working calendar" hint="The promise and working days in rules are computed in it.">
		<select
			class="select"
			value={promise.calendar ?? ''}
			onchange={(e) => (promise.calendar = e.currentTarget.value || undefined)}
			data-field="calendar"
		>
			<option value="">Monday to Friday, all day</option>
			{#each editor.materials.calendars as calendar (calendar.key)}
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

<Heading>The clock</Heading>
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

<Heading>Promised times</Heading>
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

<Endings />

<OwnMessages />
