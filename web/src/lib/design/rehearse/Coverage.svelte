<!-- What the cases of a draft reach and what they do not, and cases that Heptad proposes for the rest. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { getEditor } from '../editor.svelte';
	const editor = getEditor();
	const act = new Act();

	let found = $state.raw<Schema['ProposedBody'] | undefined>();
	let ticked = $state<Record<string, boolean>>({});
	const sides = [
		['questions', 'Questions'],
		['items', 'Items'],
		['ladder', 'Ladder'],
		['plan', 'Plan'],
		['promise', 'Promise']
	] as const;
	const rest = $derived((found?.points ?? []).filter((p) => !p.reached));
	const reached = (points: Schema['RehearsePoint'][]) => points.filter((p) => p.reached).length;

	async function propose() {
		await editor.save();
		found = await unwrap(
			api.POST('/api/design/{offering}/cases/propose', {
				params: { path: { offering: editor.document.key } }
			})
		);
		ticked = Object.fromEntries(found.cases.map((c) => [c.case.name, true]));
	}
	async function take() {
		const have = (editor.document.cases ?? []).map((c) => c.name);
		const more = (found?.cases ?? [])
			.filter((c) => ticked[c.case.name])
			.map((c) => {
				let name = c.case.name;
				for (let n = 2; have.includes(name); n++) name = `${c.case.name}, ${n}`;
				have.push(name);
				return { ...c.case, name };
			});
		editor.apart();
		editor.document.cases = [...(editor.document.cases ?? []), ...more];
		await editor.save();
		found = undefined;
	}
	/** What a case reaches beside what it is called by. */
	function also(one: Schema['ProposedCase']) {
		const rest = one.reaches.filter((r) => r !== one.case.name);
		return rest.slice(0, 4).join(' · ') + (rest.length > 4 ? ` and ${rest.length - 4} more` : '');
	}
	const chosen = $derived((found?.cases ?? []).filter((c) => ticked[c.case.name]).length);
</script>

<section>
	<h2>What they reach</h2>
	<p>
		<button class="btn plain" disabled={act.running} onclick={() => void act.run(propose)} data-do="propose"
			>{act.running ? 'Searching …' : 'Propose cases for the rest'}</button
		>
		<span class="soft small"
			>Searches answers, people and mishaps for a small set that reaches what can be reached.</span
		>
	</p>
	<Trouble problem={act.problem} />
	{#if found}
		<p role="status" data-reached={reached(found.points)} data-of={found.points.length}>
			The cases kept reach <strong>{reached(found.kept)}</strong> of {found.points.length};
			{#if found.cases.length}with the {found.cases.length} proposed it would be
				<strong>{reached(found.points)}</strong>.{:else}nothing more was found.{/if}
		</p>
		{#if found.cases.length}
			<ol class="proposed">
				{#each found.cases as one (one.case.name)}
					<li>
						<label
							><input
								type="checkbox"
								class="checkbox"
								bind:checked={() => ticked[one.case.name] ?? false, (on) => (ticked[one.case.name] = on)}
								data-proposed={one.case.name}
							/>
							<span
								><strong>{one.case.name}</strong>
								<span class="small soft">{also(one)}</span></span
							></label
						>
					</li>
				{/each}
			</ol>
			<button
				class="btn do"
				disabled={!chosen || act.running}
				onclick={() => void act.run(take)}
				data-do="take-proposed">Keep {chosen} of them</button
			>
		{/if}
		{#each sides as [side, words] (side)}
			{@const points = rest.filter((p) => p.side === side)}
			{#if points.length}
				<p class="fact">{words}: reached by none</p>
				<ul>
					{#each points as point (point.id)}<li
							class="small"
							data-unreached={point.id}
							data-cannot={point.cannot ?? false}
						>
							<strong>{point.sentence}</strong>: {point.cannot ? 'cannot.' : ''}
							{point.why}
						</li>{/each}
				</ul>
			{/if}
		{/each}
	{/if}
</section>

<style>
	section {
		border-top: 2px solid var(--ink);
		margin-top: 1rem;
		padding-top: 0.5rem;
	}
	.proposed {
		list-style: none;
		padding: 0;
		margin-block: 0.5rem;
	}
	.proposed label {
		display: grid;
		grid-template-columns: 1.5rem minmax(0, 1fr);
		align-items: start;
		padding: 0.2rem 0;
	}
</style>
