<!-- A list of ways to find who decides. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor } from './editor.svelte';
	import { sourceOf, sources, type Source } from './sources';

	type Props = { list: Source[]; name: string; few?: boolean; onlist: (list: Source[]) => void };
	let { list, name, few = false, onlist }: Props = $props();
	const editor = getEditor();

	/** Questions that ask for a person, columns of tables included. */
	const asking = $derived(
		editor.document.questions.flatMap((q: Schema['FormQuestion']) =>
			q.kind === 'person'
				? [{ key: q.key, label: q.label ?? q.key }]
				: (q.columns ?? [])
						.filter((c) => c.kind === 'person')
						.map((c) => ({ key: `${q.key}.${c.key}`, label: `${q.label}: ${c.label}` }))
		)
	);
	const first = $derived({
		team: editor.portfolio.teams[0]?.key ?? '',
		person: editor.portfolio.people[0]?.key ?? '',
		question: asking[0]?.key ?? ''
	});
	const change = (at: number, source: Source) => onlist(list.map((s, i) => (i === at ? source : s)));
	const ways = $derived(Object.entries(sources).filter(([key]) => key !== 'answer' || asking.length > 0));
</script>

<fieldset>
	<legend class="caption">{name}</legend>
	{#each list as source, j (j)}
		<div class="row">
			<select
				class="select"
				aria-label="{name} {j + 1}"
				value={source.source}
				onchange={(e) => change(j, sourceOf(e.currentTarget.value as Source['source'], first))}
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
					{#each editor.portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option
						>{/each}
				</select>
			{:else if source.source === 'person'}
				<select
					class="select"
					aria-label="Person"
					value={source.person}
					onchange={(e) => change(j, { ...source, person: e.currentTarget.value })}
				>
					{#each editor.portfolio.people as person (person.key)}<option value={person.key}
							>{person.name}</option
						>{/each}
				</select>
			{:else if source.source === 'answer'}
				<select
					class="select"
					aria-label="Question"
					value={source.question}
					onchange={(e) => change(j, { ...source, question: e.currentTarget.value })}
				>
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
						value={source.level ?? 2}
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
	<button
		type="button"
		class="btn quiet small"
		onclick={() => onlist([...list, sourceOf('serviceOwner', first)])}>Add somebody</button
	>
</fieldset>

<style>
	.row {
		display: flex;
		gap: 0.75rem;
		align-items: center;
		padding-block: 0.15rem;
	}
	.row .select {
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
