<!-- Answers of a draft to questions that past requests were not asked. -->
<script lang="ts">
	import DateField from '$lib/ui/DateField.svelte';
	import { getEditor } from '../editor.svelte';
	type Value = string | number | boolean;
	let { fill = $bindable() }: { fill: Record<string, Value> } = $props();
	const editor = getEditor();
	/** Kinds whose answer is one value that can be given here. */
	const kinds = ['choice', 'yesNo', 'number', 'text', 'longText', 'date'];
	const questions = $derived((editor.document.questions ?? []).filter((q) => kinds.includes(q.kind)));

	let key = $state('');
	let value = $state('');
	const question = $derived(questions.find((q) => q.key === key));
	const label = (of: string) => questions.find((q) => q.key === of)?.label ?? of;
	const shown = (of: string, v: Value) =>
		v === true
			? 'yes'
			: v === false
				? 'no'
				: (questions.find((q) => q.key === of)?.choices?.find((c) => c.key === v)?.label ?? String(v));

	function add() {
		if (!question) return;
		const typed =
			question.kind === 'yesNo' ? value === 'yes' : question.kind === 'number' ? Number(value) : value;
		fill = { ...fill, [key]: typed };
		[key, value] = ['', ''];
	}
	const drop = (of: string) =>
		(fill = Object.fromEntries(Object.entries(fill).filter(([other]) => other !== of)));
</script>

{#each Object.entries(fill) as [of, v] (of)}
	<p class="small" data-filled={of}>
		Who was not asked “{label(of)}” answers <strong>{shown(of, v)}</strong>
		<button type="button" class="btn quiet small" onclick={() => drop(of)} aria-label="Not: {label(of)}"
			>not</button
		>
	</p>
{/each}
<div class="add small">
	<select
		class="select"
		aria-label="A question that was not asked"
		bind:value={key}
		onchange={() => (value = '')}
		data-field="fill-question"
	>
		<option value="">Answer a new question for all …</option>
		{#each questions as q (q.key)}<option value={q.key}>{q.label}</option>{/each}
	</select>
	{#if question}
		{#if question.kind === 'date'}
			<DateField
				{value}
				label="Answer"
				control={{ 'data-field': 'fill-value' }}
				onday={(d) => (value = d ?? '')}
			/>
		{:else if question.kind === 'choice' || question.kind === 'yesNo'}
			<select class="select" aria-label="Answer" bind:value data-field="fill-value">
				<option value="">choose</option>
				{#if question.kind === 'yesNo'}<option value="yes">yes</option><option value="no">no</option>
				{:else}{#each question.choices ?? [] as c (c.key)}<option value={c.key}>{c.label}</option>{/each}{/if}
			</select>
		{:else}
			<input
				class="input"
				type={question.kind === 'number' ? 'number' : 'text'}
				aria-label="Answer"
				bind:value
				data-field="fill-value"
			/>
		{/if}
		<button type="button" class="btn plain small" disabled={value === ''} onclick={add} data-do="fill"
			>Say so</button
		>
	{/if}
</div>

<style>
	p {
		margin: 0;
	}
	.add {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.4rem;
	}
	.add :is(select, input) {
		width: auto;
		max-width: 18rem;
	}
</style>
