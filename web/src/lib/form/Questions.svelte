<!-- The questions of a form, or of one of its pages, in their sections and widths. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Why from '$lib/ui/Why.svelte';
	import QuestionField from './QuestionField.svelte';
	import TableRows from './TableRows.svelte';
	import type { Head, Question } from './tools';

	type Props = {
		sections: Schema['FormSection'][];
		questions: Question[];
		results: Map<string, Schema['FormQuestionResult']>;
		answers: Record<string, unknown>;
		head: Head;
		/** Problems are shown at these, or at all. */
		left: Record<string, boolean>;
		all: boolean;
		/** Shows reasons, and what is hidden. */
		why?: boolean;
		prefix?: string;
		onanswer: (key: string, value: unknown) => void;
		onleave?: (key: string) => void;
	};
	let {
		sections,
		questions,
		results,
		answers,
		head,
		left,
		all,
		why = false,
		prefix = 'q',
		onanswer,
		onleave
	}: Props = $props();

	const blocks = $derived(
		[{ key: '', name: '', text: '' }, ...sections]
			.map((section) => ({
				section,
				questions: questions.filter(
					(q) => (q.section ?? '') === section.key && (why || results.get(q.key)?.shown)
				)
			}))
			.filter((b) => b.questions.length > 0)
	);
	const value = (q: Question) => {
		const result = results.get(q.key);
		return result?.locked || !(q.key in answers) ? result?.value : answers[q.key];
	};
	const typed = new Set(['text', 'longText', 'number', 'money', 'date', 'dateTime']);
	/** What was chosen and is not offered any more is told at once; what is typed, once it is left. */
	const none: string[] = [];
	const sentences = (q: Question) => {
		const problems = results.get(q.key)?.problems;
		if (!problems?.length) return none;
		return problems
			.filter((p) => all || left[q.key] || (p.code === 'invalid' && !typed.has(q.kind)))
			.map((p) => p.sentence);
	};
</script>

{#each blocks as { section, questions } (section.key)}
	{#if section.name}
		<div class="section">
			<h2>{section.name}</h2>
			{#if section.text}<p class="soft">{section.text}</p>{/if}
		</div>
	{/if}
	<div class="grid">
		{#each questions as question (question.key)}
			{@const result = results.get(question.key)}
			{#if result?.shown}
				<div
					class="cell {question.kind === 'table' || question.kind === 'items'
						? 'full'
						: (question.width ?? 'full')}"
				>
					{#if question.kind === 'table'}
						<TableRows
							{question}
							{result}
							{head}
							id="{prefix}-{question.key}"
							value={value(question)}
							all={all || Boolean(left[question.key])}
							onanswer={(v) => onanswer(question.key, v)}
							onleave={() => onleave?.(question.key)}
						/>
					{:else}
						<QuestionField
							{question}
							{result}
							{head}
							path={question.key}
							id="{prefix}-{question.key}"
							value={value(question)}
							problems={sentences(question)}
							{why}
							onanswer={(v) => onanswer(question.key, v)}
							onleave={() => onleave?.(question.key)}
						/>
					{/if}
				</div>
			{:else if result}
				<p class="cell full hidden soft small">
					{question.label}: hidden <Why of={question.label} reason={result.reason ?? ''} />
				</p>
			{/if}
		{/each}
	</div>
{/each}

<style>
	.section {
		border-bottom: 1px solid var(--line-strong);
		margin-top: 1.25rem;
		padding-bottom: 0.2rem;
	}
	.grid {
		display: grid;
		grid-template-columns: repeat(6, minmax(0, 1fr));
		gap: 0 1.25rem;
		align-items: start;
	}
	.full {
		grid-column: span 6;
	}
	.twoThirds {
		grid-column: span 4;
	}
	.half {
		grid-column: span 3;
	}
	.third {
		grid-column: span 2;
	}
	.hidden {
		border-left: 3px dotted var(--line-strong);
		padding-left: 0.5rem;
		margin-block: 0.3rem;
	}
	@container (max-width: 30rem) {
		.cell {
			grid-column: span 6;
		}
	}
</style>
