<!-- Arranges a board: its pages and their order, with whom it is shared, when it is sent. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import ClockField from '$lib/ui/ClockField.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { rhythms, shows } from './shows';

	type Props = { board: Schema['BoardView']; ondone: () => void };
	let { board, ondone }: Props = $props();
	const act = new Act();
	let draft = $state(untrack(() => structuredClone($state.snapshot(board.board))));
	let people = $state(untrack(() => [...board.people]));
	const move = (i: number, by: number) => {
		const [part] = draft.parts.splice(i, 1);
		if (part) draft.parts.splice(i + by, 0, part);
	};
	async function save() {
		const saved = await act.run(() =>
			unwrap(
				api.PUT('/api/boards/{board}', {
					params: { path: { board: board.id } },
					body: {
						revision: board.revision,
						board: { ...draft, shared: { ...draft.shared, people: people.map((p) => p.key) } }
					}
				})
			)
		);
		if (saved) ondone();
	}
</script>

<form
	class="edit"
	onsubmit={(e) => {
		e.preventDefault();
		void save();
	}}
>
	<label
		>What it is called <input
			class="input"
			bind:value={draft.title}
			maxlength="120"
			data-field="title"
		/></label
	>
	<fieldset>
		<legend>Pages</legend>
		<ol>
			{#each draft.parts as part, i (i)}
				<li data-part={i}>
					<input class="input" bind:value={part.title} maxlength="120" aria-label="Heading of page {i + 1}" />
					<select class="select" bind:value={part.show} aria-label="What page {i + 1} shows"
						>{#each shows as [key, words] (key)}<option value={key}>{words}</option>{/each}</select
					>
					<button type="button" class="btn quiet" disabled={i === 0} onclick={() => move(i, -1)}>up</button>
					<button
						type="button"
						class="btn quiet"
						disabled={i === draft.parts.length - 1}
						onclick={() => move(i, 1)}>down</button
					>
					<button type="button" class="btn quiet" onclick={() => draft.parts.splice(i, 1)}>take away</button>
				</li>
			{:else}<li class="soft">
					Without a page it cannot be saved: put something on it under Figures.
				</li>{/each}
		</ol>
	</fieldset>
	<fieldset>
		<legend>Who sees it</legend>
		<label class="tick"
			><input
				type="checkbox"
				class="checkbox"
				checked={draft.shared.everyone ?? false}
				onchange={(e) => (draft.shared.everyone = e.currentTarget.checked || undefined)}
				data-field="everyone"
			/> Everybody of the company</label
		>
		<p class="soft small">
			They see its numbers as you may; records they see only as far as they may themselves.
		</p>
		<div class="people">
			{#each board.teams.filter((t) => draft.shared.teams?.includes(t.key)) as t (t.key)}<span class="chip"
					>{t.name}
					<button
						type="button"
						aria-label="Not {t.name}"
						onclick={() => (draft.shared.teams = draft.shared.teams?.filter((key) => key !== t.key))}
						>✕</button
					></span
				>{/each}
			{#each people as p (p.key)}<span class="chip"
					>{p.name}
					<button
						type="button"
						aria-label="Not {p.name}"
						onclick={() => (people = people.filter((x) => x.key !== p.key))}>✕</button
					></span
				>{/each}
		</div>
		<label
			>Also teams, and by mail
			<select
				class="select"
				value=""
				onchange={(e) => {
					draft.shared.teams = [...(draft.shared.teams ?? []), e.currentTarget.value];
					e.currentTarget.value = '';
				}}
				data-field="share-team"
				><option value="">Choose a team</option
				>{#each board.teams.filter((t) => !draft.shared.teams?.includes(t.key)) as t (t.key)}<option
						value={t.key}>{t.name}</option
					>{/each}</select
			></label
		>
		<label for="share-with">Also by name, and by mail</label>
		{#key people.length}<PersonPicker
				control={{ id: 'share-with', 'data-field': 'share-with' }}
				onpick={(p) => {
					if (p && !people.some((x) => x.key === p.id)) people = [...people, { key: p.id, name: p.name }];
				}}
			/>{/key}
	</fieldset>
	<fieldset>
		<legend>By mail, to you and those named</legend>
		<div class="rhythm">
			<select
				class="select"
				value={draft.mail.rule ?? ''}
				onchange={(e) =>
					(draft.mail = e.currentTarget.value
						? { rule: e.currentTarget.value, at: draft.mail.at || '08:00' }
						: {})}
				aria-label="How often"
				data-field="rhythm"
				>{#each rhythms as [rule, words] (rule)}<option value={rule}>{words}</option>{/each}</select
			>
			{#if draft.mail.rule}at <ClockField
					value={draft.mail.at ?? ''}
					control={{ 'aria-label': 'At', 'data-field': 'mail-at' }}
					ontime={(at) => (draft.mail.at = at)}
				/>{/if}
		</div>
	</fieldset>
	<label class="turns"
		>On the wall, each page for
		<input
			class="input"
			type="number"
			min="5"
			max="600"
			value={draft.turns || 20}
			oninput={(e) => (draft.turns = Number(e.currentTarget.value) || 0)}
			data-field="turns"
		/> seconds</label
	>
	<Trouble problem={act.problem} />
	<p>
		<button class="btn do" disabled={act.running || !draft.parts.length} data-do="save-board"
			>Save the board</button
		>
	</p>
</form>

<style>
	.edit {
		display: grid;
		gap: 1.1rem;
		max-width: 46rem;
	}
	.edit > label {
		display: grid;
		gap: 0.2rem;
	}
	legend {
		font-weight: 600;
		margin-bottom: 0.3rem;
	}
	ol li {
		display: grid;
		grid-template-columns: 2fr 2fr auto auto auto;
		gap: 0.4rem;
		padding: 0.2rem 0;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.people {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem;
		margin-block: 0.4rem;
	}
	.chip {
		background: var(--sound-wash);
		padding: 0.15rem 0.5rem;
	}
	.rhythm {
		display: flex;
		gap: 0.6rem;
		align-items: center;
		flex-wrap: wrap;
	}
	.rhythm .select {
		width: auto;
	}
	.edit > .turns {
		display: flex;
		align-items: center;
		gap: 0.5rem;
	}
	.turns .input {
		width: 5rem;
	}
	@media (max-width: 40rem) {
		ol li {
			grid-template-columns: 1fr 1fr 1fr;
		}
	}
</style>
