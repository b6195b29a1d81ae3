<!-- One question with the control of its kind. Its problems stand under it. -->
<script lang="ts">
	import TimeField from '$lib/ui/TimeField.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import { costCentres } from '$lib/names.svelte';
	import { answerText, at } from '$lib/words';
	import { fieldTime, instantOf } from '$lib/zone';
	import Why from '$lib/ui/Why.svelte';
	import type { Choice } from '$lib/ui/Picker.svelte';
	import Chooser from './Chooser.svelte';
	import Items from './Items.svelte';
	import LongChoice from './LongChoice.svelte';
	import NamePicker from '$lib/ui/NamePicker.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { getTools, type Field, type Head, type PickedItem, type Question, type Upload } from './tools';

	type Props = {
		question: Question;
		result: Field & { present?: string };
		head: Head;
		/** Key as files and lookups name it: of a column, table.column. */
		path: string;
		/** Unlike that of any other on the page. */
		id: string;
		value: unknown;
		problems: string[];
		/** Shows the reasons of the rules. */
		why?: boolean;
		onanswer: (value: unknown) => void;
		onleave?: () => void;
	};
	let { question, result, head, path, id, value, problems, why = false, onanswer, onleave }: Props = $props();
	const tools = getTools();

	const described = $derived(
		[
			question.help ? `${id}-help` : '',
			question.readers === 'private' ? `${id}-private` : '',
			problems.length ? `${id}-problems` : ''
		]
			.join(' ')
			.trim() || undefined
	);
	const invalid = $derived(problems.length > 0);
	const fixed = $derived(result.locked || question.kind === 'computed');
	const chooser = $derived(['yesNo', 'choice', 'choices'].includes(question.kind));
	const grouped = $derived(!fixed && (chooser || ['items', 'file'].includes(question.kind)));
	/** What every control of a single value carries. */
	const control = $derived({
		id: `${id}-field`,
		'aria-required': result.required,
		'aria-invalid': invalid,
		'aria-describedby': described
	});
	const text = $derived(value === undefined || value === null ? '' : String(value));
	const local = $derived(question.kind === 'dateTime' && text ? fieldTime(new Date(text)) : '');

	const typed = (e: Event) => onanswer((e.currentTarget as HTMLInputElement).value || null);
	function number(e: Event) {
		const field = e.currentTarget as HTMLInputElement;
		onanswer(field.value === '' ? null : field.valueAsNumber);
	}
	const moment = (value: string) => onanswer(value ? instantOf(value).toISOString() : null);
	function left(e: FocusEvent) {
		const here = e.currentTarget as HTMLElement;
		if (!here.contains(e.relatedTarget as Node | null)) onleave?.();
	}
	/** What there is to choose from among what the company has. */
	const listed = $derived.by((): Choice[] => {
		switch (question.kind) {
			case 'team':
				return head.teams.map((t) => ({ key: t.key, label: t.name }));
			case 'location':
				return head.places.map((place) => ({ key: place, label: place }));
			case 'belonging':
				return head.belongings
					.filter((b) => result.choices?.includes(b.id))
					.map((b) => ({ key: b.id, label: b.name, note: b.detail || undefined }));
			default:
				return [];
		}
	});
	const fixedText = $derived.by(() => {
		if (text === '') return '—';
		if (value === true) return 'Yes';
		if (value === false) return 'No';
		if (question.kind === 'choice') return question.choices?.find((c) => c.key === value)?.label ?? text;
		const kind = question.kind === 'computed' ? question.gives : question.kind;
		if (kind === 'date') return answerText(text);
		if (kind === 'dateTime') return at(text);
		if (question.kind === 'person') return head.persons.find((p) => p.key === value)?.name ?? text;
		return text;
	});
</script>

{#snippet words()}
	{question.label}{#if result.required && !fixed}&nbsp;<span class="needed">needed</span>{/if}
{/snippet}

{#snippet help()}
	{#if question.help}<p class="hint" id="{id}-help">{question.help}</p>{/if}
	{#if question.readers === 'private'}<p class="hint" id="{id}-private">
			Private: only you and those whose decision or task needs it have it shown, and you see who did.
		</p>{/if}
	{#if result.present}<p class="hint" data-present={question.key}>Now: {answerText(result.present)}</p>{/if}
	{#if question.picture}<img src={question.picture} alt="" class="picture" />{/if}
{/snippet}

{#if question.kind === 'statement'}
	<div class="question statement" {id} data-question={question.key}>
		<strong>{question.label}</strong>
		{@render help()}
	</div>
{:else}
	<div class="question" {id} data-question={question.key} onfocusout={left} role="presentation">
		{#if fixed}
			<p class="ask" id="{id}-label">{@render words()}</p>
			{@render help()}
			<output class="stays" aria-labelledby="{id}-label" data-locked>{fixedText}</output>
		{:else}
			{#if !grouped}
				<label class="ask" for="{id}-field">{@render words()}</label>
				{@render help()}
			{/if}
			{#if question.kind === 'text'}
				<input class="input" value={text} oninput={typed} placeholder={question.example} {...control} />
			{:else if question.kind === 'longText'}
				<textarea class="textarea" rows="3" value={text} oninput={typed} {...control}></textarea>
			{:else if question.kind === 'number'}
				<input
					class="input short"
					type="number"
					step="any"
					min={question.min}
					max={question.max}
					value={text}
					oninput={number}
					{...control}
				/>
			{:else if question.kind === 'money'}
				<span class="sum"
					><input class="input short" inputmode="decimal" value={text} oninput={typed} {...control} />
					<span class="mono soft">{head.currency}</span></span
				>
			{:else if question.kind === 'date'}
				<DateField value={text} label={question.label} {control} onday={onanswer} />
			{:else if question.kind === 'dateTime'}
				<TimeField value={local} label={question.label} {control} onmoment={moment} />
			{:else if question.kind === 'person'}
				<PersonPicker
					among={tools && ((words) => tools.lookUp(path, words))}
					name={head.persons.find((p) => p.key === value)?.name ?? text}
					{control}
					onpick={(p) => onanswer(p?.login ?? null)}
				/>
			{:else if question.kind === 'costCentre'}
				<NamePicker from={costCentres} value={text} label={question.label} {control} onkey={onanswer} />
			{:else if ['team', 'location', 'belonging'].includes(question.kind)}
				<LongChoice choices={listed} value={text} label={question.label} {control} onkey={onanswer} />
				{#if question.kind === 'belonging' && !result.choices?.length}<p class="hint">
						Nothing of that kind is known.
					</p>{/if}
			{:else}
				<fieldset
					aria-describedby={described}
					aria-invalid={invalid ? 'true' : undefined}
					role={question.kind === 'yesNo' || question.kind === 'choice' ? 'radiogroup' : 'group'}
				>
					<legend class="ask">{@render words()}</legend>
					{@render help()}
					{#if chooser}
						<Chooser {question} {result} {id} {value} {onanswer} />
					{:else if question.kind === 'items'}
						<Items
							{question}
							{result}
							{head}
							picks={Array.isArray(value) ? (value as PickedItem[]) : []}
							{onanswer}
						/>
					{:else if question.kind === 'file'}
						{#await import('./Files.svelte') then { default: Files }}<Files
								{question}
								{head}
								{path}
								files={Array.isArray(value) ? (value as Upload[]) : []}
								{onanswer}
							/>{/await}
					{/if}
				</fieldset>
			{/if}
		{/if}
		{#if why && result.reason}<Why of={question.label} reason={result.reason} />{/if}
		<div class="problems" id="{id}-problems" aria-live="polite">
			{#each problems as problem, i (i)}
				<p class="problem small">{problem}</p>
			{/each}
		</div>
	</div>
{/if}

<style>
	.question {
		padding-top: 0.6rem;
		scroll-margin-top: 4rem;
		min-width: 0;
	}
	.ask {
		font-weight: 600;
		display: block;
		margin-bottom: 0.25rem;
	}
	.needed {
		font-weight: 400;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		border-bottom: 2px solid var(--brass);
		margin-left: 0.35rem;
	}
	.hint {
		display: block;
		margin-bottom: 0.3rem;
		white-space: pre-line;
	}
	.picture {
		max-height: 12rem;
		margin-bottom: 0.4rem;
	}
	.short {
		max-width: 13rem;
	}
	.sum {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.stays {
		display: block;
		padding: 0.35rem 0.6rem;
		border-left: 3px solid var(--fog);
		background: var(--paper);
	}
	/* a problem that comes as one leaves must not move what one is about to press */
	.problems {
		min-height: 1.5rem;
	}
	.statement {
		padding-bottom: 0.6rem;
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
		margin-block: 0.4rem;
	}
</style>
