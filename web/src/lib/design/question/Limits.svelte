<!-- How a question looks, and the limits of its answer. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import DateLimit from '../DateLimit.svelte';
	import { getEditor, ticked } from '../editor.svelte';
	import { kindHas, widths } from '../kinds';
	import PictureField from '$lib/ui/PictureField.svelte';

	type Question = Schema['FormQuestion'];
	let { question, column }: { question: Question; column: boolean } = $props();
	const editor = getEditor();
	const sections = $derived(editor.document.sections ?? []);
	const has = (field: keyof Question) => kindHas(editor.materials.kinds, question.kind, field);

	type TextField = 'short' | 'pattern' | 'example' | 'min' | 'max' | 'step';
	type NumberField = 'minLength' | 'maxLength' | 'minCount' | 'maxCount' | 'maxSize';
	function set(field: TextField, value: string) {
		if (value) question[field] = value;
		else delete question[field];
	}
	function setNumber(field: NumberField, value: number) {
		if (value > 0) question[field] = Math.trunc(value);
		else delete question[field];
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
</style>
