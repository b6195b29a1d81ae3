<!-- The form as it would be for a person, for another, on a day: the same rules as live, nothing kept. -->
<script lang="ts">
	import Rich from '$lib/ui/Rich.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Questions from '$lib/form/Questions.svelte';
	import Slip from '$lib/form/Slip.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import { getTrial } from './trial.svelte';

	const trial = getTrial();
	const form = $derived(trial.form);
	let look = $state<'asker' | 'staff'>('asker');

	const results = $derived(new Map((form?.result.questions ?? []).map((q) => [q.key, q])));
	const answered = $derived(Object.fromEntries(Object.keys(trial.answers).map((key) => [key, true])));
</script>

<h2>Preview</h2>
<div class="as">
	<label for="trial-as"
		>as <PersonPicker
			name={form?.as.name ?? ''}
			control={{ id: 'trial-as', 'data-field': 'as' }}
			onpick={(person) => person && (trial.as = person.id)}
		/></label
	>
	<label for="trial-for"
		>for <PersonPicker
			name={trial.whomName}
			control={{ id: 'trial-for', 'data-field': 'for', placeholder: 'themselves' }}
			onpick={(person) => ([trial.whom, trial.whomName] = [person?.id ?? '', person?.name ?? ''])}
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
	<label
		>as seen by <select class="select" bind:value={look} data-field="look">
			<option value="asker">the asker</option>
			<option value="staff">deciders, teams</option>
		</select></label
	>
	{#if Object.keys(trial.answers).length}<button class="btn quiet small" onclick={() => (trial.answers = {})}
			>Empty the answers</button
		>{/if}
</div>
{#if trial.trouble}<p class="problem">{trial.trouble}</p>{/if}
{#if form && look === 'asker'}
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
{:else if form}
	<p class="fact">Title of the request</p>
	<p><strong>{form.title}</strong></p>
	{#if !form.rungs.length && !form.work.length}<p class="soft small">
			With these answers nobody decides, and no task is done.
		</p>{/if}
	{#each form.rungs as rung, i (i)}
		<div class="shown">
			<p class="fact">Decision: {rung.name}</p>
			{#if rung.say}<p>{rung.say}</p>{/if}
			<Answers answers={rung.answers} />
		</div>
	{/each}
	{#each form.work as task (task.key)}
		<div class="shown" class:skipped={!task.wanted} data-task={task.key}>
			<p class="fact">{task.automatic ? 'By itself' : task.team}</p>
			<p>
				<strong>{task.name}</strong>
				{#if !task.wanted}<span class="soft small">not needed with these answers</span>{/if}
			</p>
			{#if task.wanted}
				{#if task.instructions}<p class="small">{task.instructions}</p>{/if}
				<Answers answers={task.answers} />
			{/if}
		</div>
	{/each}
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
	.select,
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
	.shown {
		border-top: 1px solid var(--line-strong);
		margin-top: 0.75rem;
		padding-top: 0.5rem;
	}
	.skipped {
		opacity: 0.75;
	}
</style>
