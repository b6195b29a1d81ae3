<!-- Fixed choices: one, several, or yes and no. What is chosen is explained. -->
<script lang="ts">
	import LongChoice from './LongChoice.svelte';
	import type { Field, Question } from './tools';

	type Props = {
		question: Question;
		result: Field;
		id: string;
		value: unknown;
		onanswer: (value: unknown) => void;
	};
	let { question, result, id, value, onanswer }: Props = $props();

	const offered = $derived(
		(question.choices ?? []).filter((c) => !result.choices || result.choices.includes(c.key))
	);
	const chosen = $derived(Array.isArray(value) ? (value as string[]) : []);
	/** So many choices are a list to choose from, not buttons. */
	const long = $derived(offered.length > 12);
	const explained = $derived(
		offered.filter((c) => c.text && (question.kind === 'choice' ? value === c.key : chosen.includes(c.key)))
	);
	const toggle = (key: string, on: boolean) =>
		onanswer(on ? [...chosen, key] : chosen.filter((k) => k !== key));
</script>

{#if question.kind === 'yesNo'}
	<div class="choices across">
		{#each [true, false] as answer (answer)}
			<label>
				<input
					type="radio"
					class="radio"
					name={id}
					checked={value === answer}
					onchange={() => onanswer(answer)}
				/>
				{answer ? 'Yes' : 'No'}
			</label>
		{/each}
	</div>
{:else if question.kind === 'choice' && long}
	<LongChoice
		choices={offered.map((o) => ({ key: o.key, label: o.label }))}
		value={typeof value === 'string' ? value : ''}
		label={question.label}
		control={{ id: `${id}-field`, 'aria-label': question.label }}
		onkey={onanswer}
	/>
{:else}
	<div class="choices" class:across={offered.length <= 4} class:tall={long}>
		{#each offered as option (option.key)}
			<label>
				{#if question.kind === 'choice'}
					<input
						type="radio"
						class="radio"
						name={id}
						value={option.key}
						checked={value === option.key}
						onchange={() => onanswer(option.key)}
					/>
				{:else}
					<input
						type="checkbox"
						class="checkbox"
						value={option.key}
						checked={chosen.includes(option.key)}
						onchange={(e) => toggle(option.key, e.currentTarget.checked)}
					/>
				{/if}
				{option.label}
			</label>
		{:else}
			<p class="hint">Nothing can be chosen here as things are.</p>
		{/each}
	</div>
{/if}
<div aria-live="polite">
	{#each explained as option (option.key)}<p class="hint explained">{option.text}</p>{/each}
</div>

<style>
	.choices {
		display: grid;
		gap: 0.15rem;
	}
	.across {
		display: flex;
		flex-wrap: wrap;
		gap: 0.15rem 1.4rem;
	}
	.tall {
		max-height: 16rem;
		overflow-y: auto;
		box-shadow: inset 0 0 0 1px var(--line);
		padding: 0.4rem;
	}
	label {
		display: flex;
		gap: 0.5rem;
		align-items: flex-start;
		padding-block: 0.15rem;
	}
	.radio,
	.checkbox {
		margin-top: 0.2rem;
		flex: none;
	}
	.explained {
		border-left: 3px solid var(--sound);
		padding-left: 0.5rem;
		margin-top: 0.2rem;
	}
</style>
