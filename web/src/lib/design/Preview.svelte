<!-- The form as it would be for a person, for another, on a day: the same rules as live, nothing kept. -->
<script lang="ts">
	import Rich from '$lib/ui/Rich.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Questions from '$lib/form/Questions.svelte';
	import Slip from '$lib/form/Slip.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { getTrial } from './trial.svelte';

	const trial = getTrial();
	const form = $derived(trial.form);

	const results = $derived(new Map((form?.result.questions ?? []).map((q) => [q.key, q])));
	const answered = $derived(Object.fromEntries(Object.keys(trial.answers).map((key) => [key, true])));
</script>

<h2>Preview</h2>
<div class="as">
	<label for="trial-as"
		>as <PersonPicker
			name={form?.as.name ?? ''}
			control={{ id: 'trial-as', 'data-field': 'as' }}
			onpick={(person) => person && (trial.as = person.login)}
		/></label
	>
	<label for="trial-for"
		>for <PersonPicker
			name={trial.whomName}
			control={{ id: 'trial-for', 'data-field': 'for', placeholder: 'themselves' }}
			onpick={(person) => ([trial.whom, trial.whomName] = [person?.login ?? '', person?.name ?? ''])}
		/></label
	>
	<span class="on"
		>on <DateField
			value={trial.day}
			label="On which day"
			control={{ 'data-field': 'on' }}
			onday={(day) => (trial.day = day ?? '')}
		/></span
	>
	{#if form?.newcomers}<label
			>newcomer <input
				class="input"
				bind:value={trial.newcomer}
				maxlength="120"
				placeholder="name, not in the directory yet"
				data-field="newcomer"
			/></label
		>{/if}
	{#if Object.keys(trial.answers).length}<button class="btn quiet small" onclick={() => (trial.answers = {})}
			>Empty the answers</button
		>{/if}
</div>
{#if trial.trouble}<p class="problem">{trial.trouble}</p>{/if}
{#if form}
	<div class="form">
		<h3>{form.name}</h3>
		<p class="soft small">{form.text}</p>
		{#if form.result.trouble}<p class="problem small">{form.result.trouble}</p>{/if}
		{#if form.instructions}<div class="small instructions"><Rich html={form.instructions} /></div>{/if}
		<Questions
			sections={form.sections}
			questions={form.questions}
			{results}
			answers={trial.answers}
			head={form}
			left={answered}
			all={false}
			why
			prefix="p"
			onanswer={(key, value) => (trial.answers = { ...trial.answers, [key]: value })}
		/>
	</div>
	<Slip result={form.result} priced={form.items.length > 0} />
{/if}

<style>
	.as {
		display: grid;
		gap: 0.25rem;
		margin-block: 0.4rem;
	}
	.as label,
	.on {
		display: grid;
		grid-template-columns: 4.5rem minmax(0, 1fr);
		gap: 0.5rem;
		align-items: center;
	}
	.as :global(.input) {
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	.form {
		margin-bottom: 0.9rem;
		container-type: inline-size;
	}
	.instructions {
		border-left: 3px solid var(--sound);
		padding-left: 0.5rem;
	}
</style>
