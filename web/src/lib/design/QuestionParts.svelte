<!-- All that a question has: words, kind, limits, choices and rules. Columns of a table are questions, too. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from './Cel.svelte';
	import Choices from './Choices.svelte';
	import DateLimit from './DateLimit.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import PictureField from './PictureField.svelte';
	import QuestionParts from './QuestionParts.svelte';
	import Rule from './Rule.svelte';
	import { getEditor, keyFrom, move, ticked } from './editor.svelte';
	import { become, kindHas, kindName, widths } from './kinds';

	type Question = Schema['FormQuestion'];
	/** column: of a table, which has no section and no width of its own. */
	let { question, place, column = false }: { question: Question; place: string; column?: boolean } = $props();
	const editor = getEditor();
	const sections = $derived(editor.document.sections ?? []);
	const name = $derived(column ? `row.${question.key}` : `answers.${question.key}`);
	const kinds = editor.portfolio.kinds;
	const offered = $derived(column ? kinds.filter((k) => k.column) : kinds);
	const has = (field: keyof Question) => kindHas(kinds, question.kind, field);

	type TextField = 'help' | 'short' | 'pattern' | 'example' | 'min' | 'max' | 'step' | 'preset' | 'compute';
	type NumberField = 'minLength' | 'maxLength' | 'minCount' | 'maxCount' | 'maxSize';
	function set(field: TextField, value: string) {
		if (value) question[field] = value;
		else delete question[field];
	}
	function setNumber(field: NumberField, value: number) {
		if (value > 0) question[field] = Math.trunc(value);
		else delete question[field];
	}
	function pickable(key: string, on: boolean) {
		question.items = ticked(question.items, key, on) ?? [];
	}
	const types = {
		'application/pdf': 'PDF',
		'image/png': 'PNG',
		'image/jpeg': 'JPEG',
		'image/webp': 'WebP',
		'text/csv': 'CSV',
		'text/plain': 'Text'
	};
	function fileType(type: string, on: boolean) {
		const next = ticked(question.fileTypes, type, on);
		if (next) question.fileTypes = next;
		else delete question.fileTypes;
	}
	function addColumn() {
		question.columns ??= [];
		const columns = question.columns; // the kept list, not the new one that was given
		const label = `Column ${columns.length + 1}`;
		const key = keyFrom(
			label,
			columns.map((c) => c.key),
			'column'
		);
		columns.push({ key, kind: 'text', label });
		editor.open[`${place}/columns#${key}`] = true;
	}
</script>

{#snippet text(field: TextField, label: string, hint?: string)}
	<Field {label} {hint}
		><input
			class="input"
			value={question[field] ?? ''}
			oninput={(e) => set(field, e.currentTarget.value)}
			data-field={field}
		/></Field
	>
{/snippet}
{#snippet number(field: NumberField, label: string)}
	<Field {label}
		><input
			class="input"
			type="number"
			min="0"
			value={question[field] ?? ''}
			oninput={(e) => setNumber(field, e.currentTarget.valueAsNumber)}
			data-field={field}
		/></Field
	>
{/snippet}

<div class="pair">
	<Field label={question.kind === 'statement' ? 'Heading' : 'Question'}
		><input class="input" bind:value={question.label} maxlength="300" data-field="label" /></Field
	>
	<Field label="Kind">
		<select
			class="select"
			value={question.kind}
			onchange={(e) =>
				become(
					question,
					e.currentTarget.value as Question['kind'],
					kinds,
					editor.document.items.list.map((i) => i.key)
				)}
			data-field="kind"
		>
			{#each offered as { kind, name } (kind)}<option value={kind}>{name}</option>{/each}
		</select>
	</Field>
</div>
{#if has('require')}<p class="hint">Rules and placeholders call it <code>{name}</code>.</p>{/if}
<Field label={question.kind === 'statement' ? 'Text' : 'Help'}
	><textarea
		class="textarea"
		rows="1"
		value={question.help ?? ''}
		oninput={(e) => set('help', e.currentTarget.value)}
		maxlength="4000"></textarea></Field
>

{#if has('require') && !place.includes('/columns')}
	<Field
		label="Who reads the answer"
		hint={question.readers === 'private'
			? 'It is kept encrypted and apart. The asker, and the tasks and decisions that name it, have it shown on asking; each reading is kept.'
			: question.readers === 'staff'
				? 'The asker is not asked and does not see it: it is computed or preset.'
				: undefined}
		><select
			class="select"
			value={question.readers ?? ''}
			onchange={(e) => (question.readers = (e.currentTarget.value || undefined) as Question['readers'])}
			data-field="readers"
		>
			<option value="">who sees the request</option>
			<option value="private">private: the asker, and what names it</option>
			<option value="staff">staff, not the asker</option>
		</select></Field
	>
	<Found place="{place}/readers" />
{/if}
{#if has('choices')}<Choices {question} />{/if}
{#if has('items')}
	<fieldset>
		<legend class="caption">Items that can be picked here</legend>
		{#each editor.document.items.list as item (item.key)}
			<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={question.items?.includes(item.key)}
					onchange={(e) => pickable(item.key, e.currentTarget.checked)}
				/>
				{item.name || item.key}</label
			>
		{:else}
			<p class="soft small">There are no items yet: add them on the <a href="items">items side</a>.</p>
		{/each}
	</fieldset>
{/if}
{#if has('compute')}
	<Field label="What comes out">
		<select
			class="select"
			value={question.gives ?? 'number'}
			onchange={(e) => (question.gives = e.currentTarget.value as Question['gives'])}
		>
			{#each kinds.filter((k) => k.gives) as { kind, name } (kind)}<option value={kind}>{name}</option>{/each}
		</select>
	</Field>
	<Cel
		titled
		label="How it is worked out"
		place="{place}/compute"
		value={question.compute ?? ''}
		field="compute"
		onrule={(rule) => set('compute', rule)}
	/>
{/if}
{#if has('columns')}
	<div class="columns">
		<p class="caption">Columns</p>
		{#each question.columns ?? [] as inner, j (inner.key)}
			<details
				data-column={inner.key}
				open={editor.open[`${place}/columns#${inner.key}`] ?? false}
				ontoggle={(e) => (editor.open[`${place}/columns#${inner.key}`] = e.currentTarget.open)}
			>
				<summary
					><strong>{inner.label || 'Without words'}</strong>
					<span class="soft small">{kindName(kinds, inner.kind)}</span></summary
				>
				<div class="inner">
					<span>
						<button
							class="btn quiet small"
							disabled={j === 0}
							onclick={() => move(question.columns ?? [], j, -1)}>Up</button
						>
						<button
							class="btn quiet small"
							onclick={() => editor.remove(inner.label, () => question.columns?.splice(j, 1))}
							>Remove this column</button
						>
					</span>
					<QuestionParts question={inner} place="{place}/columns/{j}" column />
				</div>
			</details>
		{/each}
		<button class="btn plain" onclick={addColumn} data-do="add-column">Add a column</button>
	</div>
{/if}

<details class="more">
	<summary class="caption">Look and limits</summary>
	<div class="three">
		{#if !column}
			<Field label="Section">
				<select
					class="select"
					value={question.section ?? ''}
					onchange={(e) => (question.section = e.currentTarget.value || undefined)}
					data-field="section"
				>
					<option value="">before all sections</option>
					{#each sections as section (section.key)}<option value={section.key}>{section.name}</option>{/each}
				</select>
			</Field>
			<Field label="Width">
				<select
					class="select"
					value={question.width ?? 'full'}
					onchange={(e) => (question.width = e.currentTarget.value as Question['width'])}
					data-field="width"
				>
					{#each Object.entries(widths) as [key, words] (key)}<option value={key}>{words}</option>{/each}
				</select>
			</Field>
		{/if}
		{#if has('require')}{@render text('short', 'Label for staff')}{/if}
		{#if has('maxLength')}
			{@render number('minLength', 'At least characters')}
			{@render number('maxLength', 'At most characters')}
			{@render text('pattern', 'Pattern (RE2)')}
			{@render text('example', 'Example of a good answer')}
			<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={question.words ?? false}
					onchange={(e) => (question.words = e.currentTarget.checked || undefined)}
				/> takes what was typed in the search</label
			>
		{/if}
		{#if question.kind === 'date'}
			<DateLimit label="Not before" field="min" value={question.min} onlimit={(v) => set('min', v)} />
			<DateLimit label="Not after" field="max" value={question.max} onlimit={(v) => set('max', v)} />
		{/if}
		{#if question.kind === 'number' || question.kind === 'money'}
			{@render text('min', 'At least')}
			{@render text('max', 'At most')}
			{#if question.kind === 'number'}{@render text('step', 'In steps of')}{/if}
		{/if}
		{#if has('minCount')}
			{@render number('minCount', 'Fewest')}
			{@render number('maxCount', 'Most')}
		{/if}
		{#if has('fileTypes')}{@render number('maxSize', 'Largest file, in kB')}{/if}
	</div>
	{#if has('fileTypes')}
		<fieldset class="types">
			<legend class="caption">Kinds of files; the usual ones when none is ticked</legend>
			{#each Object.entries(types) as [type, words] (type)}
				<label class="tick"
					><input
						type="checkbox"
						class="checkbox"
						checked={question.fileTypes?.includes(type)}
						onchange={(e) => fileType(type, e.currentTarget.checked)}
					/>
					{words}</label
				>
			{/each}
		</fieldset>
	{/if}
	<PictureField
		label="Picture with the help"
		value={question.picture}
		onpicture={(uri) => (question.picture = uri)}
	/>
</details>

<Rule
	begins="Shown"
	without="always"
	place="{place}/show"
	value={question.show}
	onrule={(rule) => (question.show = rule || undefined)}
/>
{#if has('require')}
	<Rule
		begins="Needed"
		without="never"
		always="always"
		place="{place}/require"
		value={question.require}
		onrule={(rule) => (question.require = rule || undefined)}
	/>
{/if}
{#if has('offer')}
	<Rule
		begins="Offers every choice"
		without="always"
		place="{place}/offer"
		value={question.offer}
		onrule={(rule) => (question.offer = rule || undefined)}
	/>
{/if}
{#if has('preset')}
	<details class="more" open={Boolean(question.preset || question.lock || question.present)}>
		<summary class="caption">Filled in beforehand</summary>
		<Cel
			label="Filled in with"
			place="{place}/preset"
			value={question.preset ?? ''}
			field="preset"
			onrule={(rule) => set('preset', rule)}
		/>
		{#if !column}
			<Cel
				titled
				label="How it is now"
				place="{place}/present"
				value={question.present ?? ''}
				text
				rows={1}
				field="present"
				onrule={(text) => (question.present = text || undefined)}
			/>
			<p class="hint">Stands beside what is wanted, on the form, for those who decide and for teams.</p>
		{/if}
		<Rule
			begins="The asker cannot change it"
			without="never: it can always be changed"
			always="ever"
			place="{place}/lock"
			value={question.lock}
			onrule={(rule) => (question.lock = rule || undefined)}
		/>
	</details>
{/if}

{#if has('require')}
	{#each question.check ?? [] as check, j (j)}
		<div class="check">
			<Rule
				begins="Good"
				place="{place}/check/{j}/rule"
				value={check.rule}
				onrule={(rule) => (check.rule = rule)}
			/>
			<Field label="Else the asker reads"
				><input class="input" bind:value={check.message} maxlength="300" data-field="message" /></Field
			>
			<button class="btn quiet small" onclick={() => question.check?.splice(j, 1)}>Remove this check</button>
		</div>
	{/each}
	<button
		class="btn quiet small add"
		data-do="add-check"
		onclick={() => (question.check = [...(question.check ?? []), { rule: '', message: '' }])}
		>Add a check</button
	>
{/if}

<style>
	.three {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
		gap: 0.5rem 0.75rem;
		align-items: end;
		padding-block: 0.4rem;
	}
	.types {
		display: flex;
		flex-wrap: wrap;
		gap: 0.2rem 1rem;
	}
	.columns {
		display: grid;
		gap: 0.4rem;
		justify-items: start;
	}
	.columns details {
		width: 100%;
		border-left: 3px solid var(--line-strong);
		padding-left: 0.6rem;
	}
	.inner {
		display: grid;
		gap: 0.6rem;
		padding-block: 0.4rem;
	}
	.check {
		display: grid;
		gap: 0.5rem;
		justify-items: start;
		border-top: 1px dotted var(--line-strong);
		padding-top: 0.5rem;
	}
	.check > :global(label) {
		width: 100%;
	}
	.add {
		justify-self: start;
	}
	code {
		font-family: var(--mono);
	}
</style>
