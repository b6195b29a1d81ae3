<!-- Keeping a rehearsal as a case: what must hold is ticked, not typed. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { getEditor } from '../editor.svelte';
	import { getRehearsal } from './rehearsal.svelte';
	const rehearsal = getRehearsal();
	const editor = getEditor();
	const act = new Act();

	let kept = $state.raw<Schema['KeptCase'] | undefined>();
	let ticked = $state<Record<string, boolean>>({});
	let name = $state('');
	let done = $state('');
	const sides = [
		['questions', 'Questions'],
		['items', 'Price'],
		['ladder', 'Decisions'],
		['plan', 'Tasks'],
		['promise', 'Promise, end and messages']
	] as const;
	const twice = $derived((editor.document.cases ?? []).some((c) => c.name === name.trim()));

	$effect(() => {
		void rehearsal.result;
		void look();
	});
	async function look() {
		const path = { path: { offering: editor.document.key } };
		const out = await unwrap(
			api.POST('/api/design/{offering}/rehearse/keep', { params: path, body: { script: rehearsal.script } })
		).catch(() => undefined);
		kept = out;
		ticked = Object.fromEntries((out?.seen ?? []).map((s) => [s.id, ticked[s.id] ?? s.ticked]));
		done = '';
	}
	async function keep() {
		if (!kept) return;
		const out = await unwrap(
			api.POST('/api/design/{offering}/rehearse/keep', {
				params: { path: { offering: editor.document.key } },
				body: { script: rehearsal.script, ticked: kept.seen.filter((s) => ticked[s.id]).map((s) => s.id) }
			})
		);
		editor.apart();
		editor.document.cases = [
			...(editor.document.cases ?? []),
			{ name: name.trim(), script: out.script, expect: out.expect }
		];
		await editor.save();
		[done, name] = [name.trim(), ''];
	}
</script>

{#if kept}
	<p class="hint">
		A case stands on its own: the people, teams, calendars and times it needs are written into it, so that it
		never changes with the company.
	</p>
	{#each sides as [side, words] (side)}
		{@const seen = kept.seen.filter((s) => s.side === side)}
		{#if seen.length}
			<fieldset>
				<legend class="fact">{words}</legend>
				{#each seen as one (one.id)}
					<label class="small"
						><input
							type="checkbox"
							class="checkbox"
							bind:checked={() => ticked[one.id] ?? false, (on) => (ticked[one.id] = on)}
							data-see={one.id}
						/> <span>{one.sentence}</span></label
					>
				{/each}
			</fieldset>
		{/if}
	{/each}
	<form
		class="name"
		onsubmit={(e) => {
			e.preventDefault();
			void act.run(keep);
		}}
	>
		<label for="case-name">Name of the case</label>
		<input
			id="case-name"
			class="input"
			bind:value={name}
			maxlength="120"
			placeholder="Permanent, badges refuse twice"
			data-field="case"
		/>
		<button class="btn do" disabled={!name.trim() || twice || act.running} data-do="keep"
			>Keep what I see</button
		>
		{#if twice}<span class="problem small">There is a case of this name.</span>{/if}
	</form>
	<Trouble problem={act.problem} />
	{#if done}<p class="done" role="status" data-kept>
			“{done}” is kept. <a href="/design/{editor.document.key}/cases">All cases</a>
		</p>{/if}
{/if}

<style>
	fieldset {
		border: 0;
		padding: 0;
		margin-bottom: 0.5rem;
	}
	label.small {
		display: grid;
		grid-template-columns: 1.4rem minmax(0, 1fr);
		align-items: start;
		padding: 0.1rem 0;
	}
	.name {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
		align-items: center;
	}
	.name .input {
		width: 20rem;
	}
	.done {
		color: var(--kelp-text);
		font-weight: 600;
	}
</style>
