<!-- A list of ways to find who decides. -->
<script lang="ts">
	import { getEditor } from './editor.svelte';
	import { askingForPeople, sourceOf, sources, type Source } from './sources';
	import PersonField from './PersonField.svelte';

	type Props = { list: Source[]; name: string; few?: boolean; onlist: (list: Source[]) => void };
	let { list, name, few = false, onlist }: Props = $props();
	const editor = getEditor();

	const asking = $derived(askingForPeople(editor.document.questions));
	const change = (at: number, source: Source) => onlist(list.map((s, i) => (i === at ? source : s)));
	const ways = $derived(Object.entries(sources).filter(([key]) => key !== 'answer' || asking.length > 0));
</script>

<fieldset>
	<legend class="caption">{name}</legend>
	{#each list as source, j (j)}
		<div class="row low">
			<select
				class="select"
				aria-label="{name} {j + 1}"
				value={source.source}
				onchange={(e) => change(j, sourceOf(e.currentTarget.value as Source['source']))}
			>
				{#each ways as [key, words] (key)}<option value={key}>{words}</option>{/each}
			</select>
			{#if source.source === 'teamLead' || source.source === 'team'}
				<select
					class="select"
					aria-label="Team"
					value={source.team}
					onchange={(e) => change(j, { ...source, team: e.currentTarget.value })}
				>
					<option value="" disabled>choose</option>
					{#each editor.materials.teams as team (team.key)}<option value={team.key}>{team.name}</option
						>{/each}
				</select>
			{:else if source.source === 'person'}
				<PersonField
					label="Person"
					field="approver"
					login={source.person}
					onlogin={(login) => change(j, { ...source, person: login ?? '' })}
				/>
			{:else if source.source === 'answer'}
				<select
					class="select"
					aria-label="Question"
					value={source.question}
					onchange={(e) => change(j, { ...source, question: e.currentTarget.value })}
				>
					<option value="" disabled>choose</option>
					{#each asking as question (question.key)}<option value={question.key}>{question.label}</option
						>{/each}
				</select>
			{:else if source.source === 'manager'}
				<label class="level"
					><input
						class="input"
						type="number"
						min="1"
						max="20"
						aria-label="How many managers up"
						value={source.level ?? ''}
						oninput={(e) =>
							Number.isInteger(e.currentTarget.valueAsNumber) &&
							change(j, { ...source, level: e.currentTarget.valueAsNumber })}
					/> up</label
				>
			{/if}
			{#if list.length > 1 || few}<button
					type="button"
					class="btn quiet small"
					onclick={() => onlist(list.filter((_, i) => i !== j))}>Remove</button
				>{/if}
		</div>
	{/each}
	<select
		class="select"
		aria-label="{name}: add somebody"
		value=""
		onchange={(e) => {
			onlist([...list, sourceOf(e.currentTarget.value as Source['source'])]);
			e.currentTarget.value = '';
		}}
		data-do="add-approver"
	>
		<option value="" disabled>Add somebody …</option>
		{#each ways as [key, words] (key)}<option value={key}>{words}</option>{/each}
	</select>
</fieldset>

<style>
	.select {
		width: auto;
		max-width: 20rem;
	}
	.level {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
	.level .input {
		width: 4.5rem;
	}
</style>
