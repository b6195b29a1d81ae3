<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddLine from './AddLine.svelte';
	import Cel from './Cel.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import MessageText from './MessageText.svelte';
	import Part from './Part.svelte';
	import Rule from './Rule.svelte';
	import Ticks from './Ticks.svelte';
	import { getEditor, move, setDrop } from './editor.svelte';
	const editor = getEditor();
	const promise = $derived(editor.document.promise);
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

	type Kind = Schema['MessageText']['kind'];
	/** Kinds of message that have no words of the offering's own yet. */
	const others = $derived(
		editor.portfolio.messages.filter((m) => !promise.messages?.some((t) => t.kind === m.key))
	);
	function write(kind: Kind) {
		const usual = editor.portfolio.messages.find((m) => m.key === kind);
		const text = { kind, subject: usual?.subject ?? '', body: usual?.body ?? '' };
		promise.messages = [...(promise.messages ?? []), text];
	}

	function add(name: string) {
		promise.targets = [...(promise.targets ?? []), { name, fulfilment: '5d' }];
		editor.open[`/promise/targets#${promise.targets.length - 1}`] = true;
	}
	type Promise = Schema['PromisePromise'];
	/** Questions whose answer is a date. */
	const dates = $derived(
		editor.document.questions.filter(
			(q) => q.kind === 'date' || (q.kind === 'computed' && q.gives === 'date')
		)
	);
	const readyWords = (ready: Schema['PromiseReadyBy']) => {
		const question = dates.find((q) => ready.of === `answers.${q.key}`);
		const days = ready.days ? `${ready.days} working ${ready.days === 1 ? 'day' : 'days'} before ` : 'by ';
		return `${days}“${question?.label ?? ready.of}”${ready.at ? `, ${ready.at}` : ''}`;
	};
	const inWords = (length: string | undefined) => {
		const [, number, unit] = /^(\d+)([dhm])$/.exec(length ?? '') ?? [];
		const words = { d: 'working day', h: 'working hour', m: 'working minute' }[unit ?? ''];
		return words ? `${number} ${words}${number === '1' ? '' : 's'}` : (length ?? '');
	};
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
		<input
			class="input"
			type="time"
			value={promise.cutOff ?? ''}
			onchange={(e) => (promise.cutOff = e.currentTarget.value || undefined)}
			data-field="cut-off"
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
				note="{target.readyBy
					? `ready ${readyWords(target.readyBy)}`
					: `delivered within ${inWords(target.fulfilment)}`}{target.when
					? `, ${editor.when(target.when)}`
					: ', for everybody'}"
				place="/promise/targets/{i}"
				part={String(i)}
				at={i}
				of={promise.targets.length}
				onmove={(step) => reorder((list) => move(list, i, step))}
				onremove={() => editor.remove(target.name, () => reorder((list) => list.splice(i, 1)))}
			>
				<Field label="Name" hint="As people read it, such as Usual or Quick.">
					<input class="input" bind:value={target.name} maxlength="120" />
				</Field>
				<Field label="What is promised">
					<select
						class="select short"
						value={target.readyBy ? 'day' : 'time'}
						onchange={(e) => {
							target.readyBy =
								e.currentTarget.value === 'day'
									? { of: dates[0] ? `answers.${dates[0].key}` : '' }
									: undefined;
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
							<input
								class="input"
								type="time"
								value={ready.at ?? ''}
								onchange={(e) => (ready.at = e.currentTarget.value || undefined)}
								data-field="ready-at"
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
								{#each editor.portfolio.calendars as calendar (calendar.key)}
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
			</Part>
		{/each}
	</ol>
{/if}
<Found place="/promise/targets" />
<AddLine label="Another promise" placeholder="Quick" button="Add promise" field="new-promise" onadd={add} />

<h2 class="group">How it closes</h2>
<Field
	label="Working days to confirm"
	hint="If the asker says nothing, the request closes as fulfilled after so many. 0 closes on delivery."
>
	<input
		class="input short"
		type="number"
		min="0"
		max="250"
		value={promise.confirmWithin ?? editor.portfolio.usual.confirmWithin}
		oninput={(e) =>
			Number.isInteger(e.currentTarget.valueAsNumber) &&
			(promise.confirmWithin = e.currentTarget.valueAsNumber)}
	/>
</Field>
<Found place="/promise/confirmWithin" />
<Field
	label="Working days to answer a question"
	hint="If the asker does not answer what an approver asked back, the request expires after so many."
>
	<input
		class="input short"
		type="number"
		min="1"
		max="250"
		value={promise.answerWithin ?? editor.portfolio.usual.answerWithin}
		oninput={(e) =>
			Number.isInteger(e.currentTarget.valueAsNumber) &&
			(promise.answerWithin = e.currentTarget.valueAsNumber)}
	/>
</Field>
<Found place="/promise/answerWithin" />

<h2 class="group">Messages in its own words</h2>
{#each promise.messages ?? [] as text, i (text.kind)}
	<div class="own">
		<div class="head">
			<strong>{editor.portfolio.messages.find((m) => m.key === text.kind)?.name}</strong>
			<button
				class="btn quiet small"
				onclick={() => editor.remove('The text', () => promise.messages?.splice(i, 1))}>Remove</button
			>
		</div>
		<MessageText
			{text}
			names={editor.portfolio.placeholders}
			onchange={(next) => promise.messages && (promise.messages[i] = next)}
		/>
		<Found place="/promise/messages/{i}" />
		<Found place="/promise/messages/{i}/subject" />
		<Found place="/promise/messages/{i}/body" />
	</div>
{:else}
	<p class="soft">None: the <a href="/design/texts">general texts</a> hold.</p>
{/each}
{#if others.length}
	<select
		class="select short"
		aria-label="Write a message of its own"
		value=""
		onchange={(e) => {
			write(e.currentTarget.value as Kind);
			e.currentTarget.value = '';
		}}
		data-field="own-message"
	>
		<option value="" disabled>Write one of its own …</option>
		{#each others as kind (kind.key)}<option value={kind.key}>{kind.name}</option>{/each}
	</select>
{/if}

<style>
	.group {
		border-top: 2px solid var(--ink);
		margin-top: 0.75rem;
		padding-top: 0.6rem;
	}
	.own {
		padding-block: 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	.head {
		display: flex;
		justify-content: space-between;
	}
	.inner {
		display: grid;
		gap: 0.6rem;
		padding: 0.5rem 0 0.5rem 1rem;
	}
	.short {
		max-width: 16rem;
	}
</style>
