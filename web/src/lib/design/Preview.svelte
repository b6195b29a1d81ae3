<!-- The form as it would be for a person: the same rules as live, nothing kept. -->
<script lang="ts">
	import { api, asked, Refused, type Schema } from '$lib/api/client';
	import QuestionField from '$lib/ui/QuestionField.svelte';
	import Slip from '$lib/ui/Slip.svelte';
	import Why from '$lib/ui/Why.svelte';
	import { getEditor } from './editor.svelte';

	const editor = getEditor();
	let as = $state(getEditor().portfolio.people[0]?.id ?? '');
	let answers = $state.raw<Record<string, unknown>>({});
	let form = $state.raw<Schema['OpenedForm'] | undefined>();
	let trouble = $state('');
	let asking = 0;

	$effect(() => {
		void editor.opened.revision;
		void run(as, answers, editor.document.key);
	});
	async function run(as: string, answers: Record<string, unknown>, offering: string) {
		const mine = ++asking;
		try {
			const tried = await asked(
				api.POST('/api/design/{offering}/try', { params: { path: { offering } }, body: { as, answers } })
			);
			if (mine === asking) [form, trouble] = [tried, ''];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (mine === asking) [form, trouble] = [undefined, refused.problem.detail];
		}
	}
	const results = $derived(new Map((form?.result.questions ?? []).map((q) => [q.key, q])));
</script>

<h2>Preview</h2>
<label class="as"
	>as <select class="select" bind:value={as} data-field="as">
		{#each editor.portfolio.people as person (person.key)}<option value={person.id}>{person.name}</option
			>{/each}
	</select></label
>
{#if trouble}<p class="problem">{trouble}</p>{/if}
{#if form}
	<div class="form">
		<h3>{form.name}</h3>
		<p class="soft small">{form.text}</p>
		{#each form.questions as question (question.key)}
			{@const result = results.get(question.key)}
			{#if result?.shown}
				<QuestionField
					{question}
					{result}
					items={form.items}
					currency={form.currency}
					value={answers[question.key]}
					problems={result.problems.filter((p) => p.code !== 'required').map((p) => p.sentence)}
					onanswer={(value) => (answers = { ...answers, [question.key]: value })}
					onleave={() => {}}
				/>
			{:else if result}
				<p class="hidden soft small">
					{question.label}: hidden <Why of={question.label} reason={result.reason ?? ''} />
				</p>
			{/if}
		{/each}
	</div>
	<Slip result={form.result} />
{/if}

<style>
	.as {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		margin-block: 0.4rem;
	}
	.select {
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	.form {
		margin-bottom: 0.9rem;
	}
	.form :global(.items li) {
		grid-template-columns: minmax(0, 1fr) auto;
	}
	.form :global(.items .price) {
		grid-column: 1 / -1;
	}
	.hidden {
		display: block;
		border-left: 3px dotted var(--line-strong);
		padding-left: 0.5rem;
	}
</style>
