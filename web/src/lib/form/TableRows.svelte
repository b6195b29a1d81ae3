<!-- A table question: rows of questions, each with rules of its own. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import QuestionField from './QuestionField.svelte';
	import type { Head, Question } from './tools';

	type Row = Record<string, unknown>;
	type Props = {
		question: Question;
		result: Schema['FormQuestionResult'];
		head: Head;
		id: string;
		value: unknown;
		/** Shows problems of rows that are not left yet, too. */
		all: boolean;
		onanswer: (value: unknown) => void;
		onleave?: () => void;
	};
	let { question, result, head, id, value, all, onanswer, onleave }: Props = $props();
	const rows = $derived(Array.isArray(value) ? (value as Row[]) : []);
	const most = $derived(question.maxCount ?? 1);
	let left = $state<Record<string, boolean>>({});

	const change = (n: number, key: string, answer: unknown) =>
		onanswer(rows.map((row, i) => (i === n ? { ...row, [key]: answer } : row)));
	const cell = (n: number, key: string) => result.rows?.[n]?.find((c) => c.key === key);
	const problems = (n: number, key: string) =>
		all || left[`${n} ${key}`]
			? result.problems
					.filter((p) => p.row === n + 1 && p.column === key)
					.map((p) => p.sentence.replace(/^Row \d+: /, ''))
			: [];
</script>

<fieldset
	class="table"
	{id}
	data-question={question.key}
	aria-describedby={question.help ? `${id}-help` : undefined}
>
	<legend class="ask"
		>{question.label}{#if result.required}&nbsp;<span class="needed">needed</span>{/if}</legend
	>
	{#if question.help}<p class="hint" id="{id}-help">{question.help}</p>{/if}
	<ol>
		{#each rows as row, n (n)}
			<li data-row={n + 1}>
				<div class="head">
					<span class="eyebrow">Row {n + 1}</span>
					<button
						type="button"
						class="btn quiet small"
						onclick={() => onanswer(rows.filter((_, i) => i !== n))}
						>Remove<span class="sr-only"> row {n + 1} of {question.label}</span></button
					>
				</div>
				<div class="cells">
					{#each question.columns ?? [] as column (column.key)}
						{@const at = cell(n, column.key)}
						{#if !at || at.shown}
							<QuestionField
								question={column}
								result={at ?? { key: column.key, shown: true, required: false, locked: false, value: null }}
								{head}
								path="{question.key}.{column.key}"
								id="{id}-{n}-{column.key}"
								value={column.key in row ? row[column.key] : at?.value}
								problems={problems(n, column.key)}
								onanswer={(answer) => change(n, column.key, answer)}
								onleave={() => {
									left[`${n} ${column.key}`] = true;
									onleave?.();
								}}
							/>
						{/if}
					{/each}
				</div>
			</li>
		{/each}
	</ol>
	<button
		type="button"
		class="btn plain"
		disabled={rows.length >= most}
		onclick={() => onanswer([...rows, {}])}
		data-do="add-row">Add a row</button
	>
	<div aria-live="polite">
		{#each result.problems.filter((p) => !p.row && (all || rows.length > 0)) as problem, i (i)}
			<p class="problem small">{problem.sentence}</p>
		{/each}
	</div>
</fieldset>

<style>
	.table {
		padding-block: 0.6rem;
		scroll-margin-top: 4rem;
	}
	.ask {
		font-weight: 600;
	}
	.needed {
		font-weight: 400;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		border-bottom: 2px solid var(--brass);
		margin-left: 0.35rem;
	}
	li {
		border-left: 3px solid var(--line-strong);
		padding-left: 0.75rem;
		margin-block: 0.5rem;
	}
	.head {
		display: flex;
		justify-content: space-between;
		align-items: center;
	}
	.cells {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr));
		gap: 0 1rem;
		align-items: start;
	}
	.cells :global(.question) {
		padding-block: 0.2rem;
	}
</style>
