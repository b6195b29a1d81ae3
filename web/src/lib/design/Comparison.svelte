<!-- One comparison of a sentence: what, how, with which values. -->
<script lang="ts">
	import DateField from '$lib/ui/DateField.svelte';
	import type { Schema } from '$lib/api/client';
	import NamePicker from '$lib/ui/NamePicker.svelte';
	import NamePickers from '$lib/ui/NamePickers.svelte';
	import Many from './Many.svelte';
	import { getRules } from './editor.svelte';
	import { comparesFacts, firstWay, sameSort, takes, type Fact } from './facts';

	type Comparison = Schema['RuleComparison'];
	type Props = {
		part: Comparison;
		facts: Fact[];
		/** It has all it needs; until then it is not stored. */
		whole: boolean;
		removable: boolean;
		/** typed: letter by letter, so that all of it is one step. */
		onchange: (typed?: boolean) => void;
		onremove: () => void;
	};
	let { part, facts, whole, removable, onchange, onremove }: Props = $props();

	const fact = $derived(facts.find((f) => f.path === part.question));
	const id = $props.id();
	const groups = $derived([...new Set(facts.map((f) => f.group))]);
	const ways = $derived(fact?.sort.ways ?? []);
	const sorts = getRules().materials.sorts;
	const wanted = $derived(takes(sorts, part.compare));
	/** Other facts it can be compared with. */
	const others = $derived(
		comparesFacts(fact, part.compare) ? facts.filter((f) => fact && !f.barred && sameSort(f, fact)) : []
	);
	const field = (of: Fact | undefined) => of?.path.split('.')[1];
	function withFact(on: boolean) {
		part.fact = on || undefined;
		part.values = on
			? [(others.find((o) => field(o) === field(fact)) ?? others[0])?.path ?? '']
			: fact?.sort.key === 'date'
				? ['today']
				: fact?.sort.key === 'yesNo'
					? ['true']
					: [];
		onchange();
	}

	function ask(path: string) {
		const next = facts.find((f) => f.path === path);
		part.question = path;
		part.compare = firstWay(next);
		part.as = next?.sort.as ?? 'text';
		part.fact = undefined;
		part.values = next?.sort.key === 'date' ? ['today'] : next?.sort.key === 'yesNo' ? ['true'] : [];
		onchange();
	}
	function compare(how: Comparison['compare']) {
		part.compare = how;
		if (part.fact && !comparesFacts(fact, how)) [part.fact, part.values] = [undefined, []];
		if (part.fact) return onchange();
		if (takes(sorts, how) === 'none') part.values = [];
		else if (how === 'within') part.values = ['5'];
		else if (takes(sorts, how) === 'one') part.values = part.values.slice(0, 1);
		if (fact?.sort.key === 'date' && how !== 'within' && !/^(today|\d{4})/.test(part.values[0] ?? ''))
			part.values = ['today'];
		onchange();
	}
	function set(value: string, typed = false) {
		part.values = [value];
		onchange(typed);
	}
	function toggle(key: string, on: boolean) {
		part.values = on ? [...part.values, key] : part.values.filter((v) => v !== key);
		onchange();
	}
</script>

<div class="part">
	<select
		class="select"
		aria-label="Question"
		value={part.question}
		onchange={(e) => ask(e.currentTarget.value)}
	>
		{#if !fact}<option value={part.question}>{part.question || 'choose'}</option>{/if}
		{#each groups as group (group)}
			<optgroup label={group}>
				{#each facts.filter((f) => f.group === group) as one (one.path)}<option
						value={one.path}
						disabled={Boolean(one.barred)}
						title={one.barred}>{one.label}{one.barred ? `: ${one.barred}` : ''}</option
					>{/each}
			</optgroup>
		{/each}
	</select>
	<select
		class="select"
		aria-label="Comparison"
		value={part.compare}
		onchange={(e) => compare(e.currentTarget.value as Comparison['compare'])}
	>
		{#each ways as way (way.compare)}<option value={way.compare}>{way.words}</option>{/each}
	</select>
	{#if others.length && wanted !== 'none'}
		<select
			class="select"
			aria-label="Compared with"
			value={part.fact ? 'fact' : 'value'}
			onchange={(e) => withFact(e.currentTarget.value === 'fact')}
		>
			<option value="value">{fact?.sort.key === 'date' ? 'the day' : 'this'}</option>
			<option value="fact">what is in</option>
		</select>
	{/if}
	{#if wanted === 'none'}
		<!-- nothing to compare with -->
	{:else if part.fact}
		<select
			class="select"
			aria-label="The other fact"
			value={part.values[0]}
			onchange={(e) => set(e.currentTarget.value)}
		>
			{#each others as other (other.path)}<option value={other.path}>{other.label}</option>{/each}
		</select>
	{:else if part.compare === 'within'}
		<input
			class="input days"
			type="number"
			min="0"
			max="10000"
			aria-label="Working days"
			value={part.values[0]}
			onchange={(e) => set(e.currentTarget.value)}
		/> working days
	{:else if wanted === 'many' && fact?.found}
		<NamePickers
			from={fact.found}
			value={part.values}
			label="Values"
			control={{ id, 'aria-label': `Add a ${fact.label}` }}
			onlist={(keys) => {
				part.values = keys;
				onchange();
			}}
		/>
	{:else if fact?.found}
		<NamePicker
			from={fact.found}
			value={part.values[0] ?? ''}
			label="Values"
			control={{ id, 'aria-label': 'Answer' }}
			onkey={(key) => set(key ?? '')}
		/>
	{:else if wanted === 'many' && fact?.choices}
		<span class="values" role="group" aria-label="Values">
			{#each fact.choices as option (option.key)}
				<label
					><input
						type="checkbox"
						class="checkbox"
						checked={part.values.includes(option.key)}
						onchange={(e) => toggle(option.key, e.currentTarget.checked)}
					/>
					{option.label}</label
				>
			{/each}
		</span>
	{:else if fact?.sort.key === 'date'}
		<select
			class="select"
			aria-label="Day"
			value={part.values[0] === 'today' ? 'today' : 'day'}
			onchange={(e) => set(e.currentTarget.value === 'today' ? 'today' : '')}
		>
			<option value="today">today</option>
			<option value="day">a day</option>
		</select>
		{#if part.values[0] !== 'today'}
			<DateField value={part.values[0] ?? ''} label="Which day" onday={(day) => set(day ?? '')} />
		{/if}
	{:else if fact?.sort.key === 'yesNo'}
		<select
			class="select"
			aria-label="Answer"
			value={part.values[0]}
			onchange={(e) => set(e.currentTarget.value)}
		>
			<option value="true">yes</option>
			<option value="false">no</option>
		</select>
	{:else if fact?.choices}
		<select
			class="select"
			aria-label="Answer"
			value={part.values[0] ?? ''}
			onchange={(e) => set(e.currentTarget.value)}
		>
			<option value="" disabled>choose</option>
			{#each fact.choices as option (option.key)}<option value={option.key}>{option.label}</option>{/each}
		</select>
	{:else if wanted === 'many'}
		<Many
			label="Values, with commas between"
			value={part.values}
			onlist={(list) => {
				part.values = list;
				onchange(true);
			}}
		/>
	{:else}
		<input
			class="input"
			aria-label="Value"
			inputmode={fact?.sort.key === 'number' || fact?.sort.key === 'money' ? 'decimal' : undefined}
			value={part.values[0] ?? ''}
			oninput={(e) => set(e.currentTarget.value, true)}
		/>
	{/if}
	{#if !whole}<span class="small warn" role="status">not stored before it is whole</span>{/if}
	{#if removable}<button class="btn quiet small" onclick={onremove}>Remove</button>{/if}
</div>

<style>
	.part {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem;
		align-items: center;
		padding-left: 0.9rem;
		border-left: 2px solid var(--sound);
		font-size: 0.875rem;
	}
	.select,
	.input {
		width: auto;
		max-width: 16rem;
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	.part :global(.picker) {
		width: 18rem;
	}
	.days {
		width: 5rem;
	}
	.values {
		display: flex;
		flex-wrap: wrap;
		gap: 0.1rem 0.9rem;
	}
	.values label {
		display: flex;
		gap: 0.35rem;
		align-items: center;
	}
	.btn {
		font-weight: 400;
	}
	.warn {
		color: var(--brass-text);
	}
</style>
