<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from './Cel.svelte';
	import Field from './Field.svelte';
	import Part from './Part.svelte';
	import Rule from './Rule.svelte';
	import { getEditor, keyFrom, move, setDrop } from './editor.svelte';

	type Source = Schema['LadderSource'];
	const editor = getEditor();
	const ladder = $derived(editor.document.ladder);
	const questions = $derived(editor.document.questions.filter((q) => q.kind !== 'statement'));
	setDrop((from, to) => move(ladder, from, to - from));
	function shows(rung: Schema['LadderRung'], key: string, on: boolean) {
		const all = rung.facts?.length ? rung.facts : questions.map((q) => q.key);
		const next = on ? [...all, key] : all.filter((k) => k !== key);
		rung.facts = next.length === questions.length ? undefined : next;
	}

	const sources: Record<Source['source'], string> = {
		lineManager: "the asker's line manager",
		serviceOwner: 'the owner of the service',
		teamLead: 'the lead of a team',
		person: 'a named person'
	};
	function add(source: Source['source']) {
		const names: Record<string, string> = {
			lineManager: 'Line manager',
			serviceOwner: 'Owner of the service',
			teamLead: 'Lead of a team',
			person: 'Named person'
		};
		const key = keyFrom(
			names[source] ?? '',
			ladder.map((r) => r.key),
			'rung'
		);
		ladder.push({ key, name: names[source] ?? '', approvers: [sourceOf(source)], quorum: 'any' });
		editor.open[`/ladder#${key}`] = true;
	}
	function sourceOf(source: Source['source']): Source {
		if (source === 'teamLead') return { source, team: editor.portfolio.teams[0]?.key ?? '' };
		if (source === 'person') return { source, person: editor.portfolio.people[0]?.key ?? '' };
		return { source };
	}
	let next = $state<Source['source']>('lineManager');
</script>

{#if ladder.length === 0}
	<p class="soft">No decision is needed: the work begins as soon as a request is sent.</p>
{/if}
<ol>
	{#each ladder as rung, i (rung.key)}
		<Part
			title="{i + 1}. {rung.name}"
			note={rung.approvers.map((a) => sources[a.source]).join(', ')}
			place="/ladder/{i}"
			part={rung.key}
			at={i}
			of={ladder.length}
			onmove={(step) => move(ladder, i, step)}
			onremove={() => editor.remove(rung.name, () => ladder.splice(i, 1))}
		>
			<Field label="Name"><input class="input" bind:value={rung.name} maxlength="200" /></Field>
			<fieldset>
				<legend class="caption">Who decides</legend>
				{#each rung.approvers as approver, j (j)}
					<div class="row">
						<select
							class="select"
							aria-label="Who decides {j + 1}"
							value={approver.source}
							onchange={(e) => (rung.approvers[j] = sourceOf(e.currentTarget.value as Source['source']))}
						>
							{#each Object.entries(sources) as [key, words] (key)}<option value={key}>{words}</option>{/each}
						</select>
						{#if approver.source === 'teamLead'}
							<select class="select" aria-label="Team" bind:value={approver.team}>
								{#each editor.portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option
									>{/each}
							</select>
						{:else if approver.source === 'person'}
							<select class="select" aria-label="Person" bind:value={approver.person}>
								{#each editor.portfolio.people as person (person.key)}<option value={person.key}
										>{person.name}</option
									>{/each}
							</select>
						{/if}
						{#if rung.approvers.length > 1}<button
								class="btn quiet small"
								onclick={() => rung.approvers.splice(j, 1)}>Remove</button
							>{/if}
					</div>
				{/each}
				<button class="btn quiet small" onclick={() => rung.approvers.push({ source: 'serviceOwner' })}
					>Add somebody</button
				>
			</fieldset>
			<Field label="How many must say yes">
				<select class="select short" bind:value={rung.quorum}>
					<option value="any">any one of them</option>
					<option value="all">all of them</option>
					{#each ['2', '3', '4'] as n (n)}<option value={n}>{n} of them</option>{/each}
				</select>
			</Field>
			<Rule
				begins="Asked"
				without="always"
				place="/ladder/{i}/when"
				value={rung.when}
				onrule={(rule) => (rung.when = rule)}
			/>
			<div>
				<p class="caption">What there is to decide</p>
				<Cel
					label="What there is to decide"
					place="/ladder/{i}/say"
					value={rung.say ?? ''}
					text
					rows={1}
					onrule={(text) => (rung.say = text || undefined)}
				/>
			</div>
			<details>
				<summary class="caption">Answers they see: {rung.facts?.length ? rung.facts.length : 'all'}</summary>
				{#each questions as question (question.key)}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={!rung.facts?.length || rung.facts.includes(question.key)}
							onchange={(e) => shows(rung, question.key, e.currentTarget.checked)}
						/>
						{question.label}</label
					>
				{/each}
			</details>
		</Part>
	{/each}
</ol>
<form
	onsubmit={(e) => {
		e.preventDefault();
		add(next);
	}}
>
	<Field label="Another decision, by">
		<select class="select" bind:value={next} data-field="new-rung">
			{#each Object.entries(sources) as [key, words] (key)}<option value={key}>{words}</option>{/each}
		</select>
	</Field>
	<button class="btn plain">Add rung</button>
</form>

<style>
	form,
	.row {
		display: flex;
		gap: 0.75rem;
		align-items: end;
		padding-block: 0.15rem;
	}
	.row .select {
		width: auto;
	}
	.short {
		width: 14rem;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
</style>
