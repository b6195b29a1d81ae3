<!-- All that a question has: words, kind, limits, choices and rules. Columns of a table are questions, too. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from './Cel.svelte';
	import Choices from './Choices.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import Checks from './question/Checks.svelte';
	import Columns from './question/Columns.svelte';
	import Filled from './question/Filled.svelte';
	import Limits from './question/Limits.svelte';
	import Rule from './Rule.svelte';
	import { getEditor, ticked } from './editor.svelte';
	import { become, kindHas } from './kinds';

	type Question = Schema['FormQuestion'];
	/** column: of a table, which has no section and no width of its own. */
	let { question, place, column = false }: { question: Question; place: string; column?: boolean } = $props();
	const editor = getEditor();
	const name = $derived(column ? `row.${question.key}` : `answers.${question.key}`);
	const kinds = editor.materials.kinds;
	const offered = $derived(column ? kinds.filter((k) => k.column) : kinds);
	const has = (field: keyof Question) => kindHas(kinds, question.kind, field);

	type TextField = 'help' | 'compute';
	function set(field: TextField, value: string) {
		if (value) question[field] = value;
		else delete question[field];
	}
	function pickable(key: string, on: boolean) {
		question.items = ticked(question.items, key, on) ?? [];
	}
</script>

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
{#if has('columns')}<Columns {question} {place} />{/if}

<Limits {question} {column} />

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
{#if has('preset')}<Filled {question} {place} {column} />{/if}

{#if has('require')}<Checks {question} {place} />{/if}

<style>
	code {
		font-family: var(--mono);
	}
</style>
