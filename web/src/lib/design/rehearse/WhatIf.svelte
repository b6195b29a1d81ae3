<!-- What is changed in a season that is foreseen, beside the draft: sentences whose words are the controls. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor } from '../editor.svelte';
	let { changes = $bindable() }: { changes: Schema['ForeseeLevers'] } = $props();
	const editor = getEditor();
	const offering = $derived(editor.document.key);
	const tasks = $derived((editor.document.plan ?? []).filter((t) => t.kind === 'manual'));
	const rungs = $derived(editor.document.ladder ?? []);

	const team = (key: string) => editor.materials.teams.find((t) => t.key === key)?.name ?? key;
	const name = (of: readonly { key: string; name: string }[], key: string) =>
		of.find((x) => x.key === key)?.name ?? key;

	let kind = $state<'people' | 'rung' | 'automatic' | 'promise'>('people');
	let which = $state('');
	let number = $state(1);
	let length = $state('');
	const ready = $derived(
		kind === 'promise' ? length.trim() !== '' : which !== '' && (kind !== 'people' || number !== 0)
	);

	const lines = $derived([
		...(changes.people ?? []).map((p, i) => ({
			words: `${Math.abs(p.more)} ${Math.abs(p.more) === 1 ? 'person' : 'people'} ${p.more < 0 ? 'fewer' : 'more'} in ${team(p.team)}`,
			off: () => (changes = { ...changes, people: changes.people?.filter((_, j) => j !== i) })
		})),
		...(changes.rungs ?? []).map((p, i) => ({
			words: `${name(rungs, p.key)} is left out`,
			off: () => (changes = { ...changes, rungs: changes.rungs?.filter((_, j) => j !== i) })
		})),
		...(changes.automatic ?? []).map((p, i) => ({
			words: `${name(tasks, p.key)} is done by a system`,
			off: () => (changes = { ...changes, automatic: changes.automatic?.filter((_, j) => j !== i) })
		})),
		...(changes.promises ?? []).map((p, i) => ({
			words: `it is promised within ${p.fulfilment}`,
			off: () => (changes = { ...changes, promises: changes.promises?.filter((_, j) => j !== i) })
		}))
	]);
	function add() {
		const part = { offering, key: which };
		if (kind === 'people')
			changes = { ...changes, people: [...(changes.people ?? []), { team: which, more: number }] };
		if (kind === 'rung') changes = { ...changes, rungs: [...(changes.rungs ?? []), part] };
		if (kind === 'automatic') changes = { ...changes, automatic: [...(changes.automatic ?? []), part] };
		if (kind === 'promise')
			changes = { ...changes, promises: [{ offering, fulfilment: length.replaceAll(' ', '') }] };
		[which, number, length] = ['', 1, ''];
	}
</script>

{#each lines as line (line.words)}
	<p class="small" data-if>
		And if {line.words}
		<button type="button" class="btn quiet small" onclick={line.off} aria-label="Not: {line.words}"
			>not</button
		>
	</p>
{/each}
<div class="add">
	<select
		class="select"
		aria-label="What is changed"
		bind:value={kind}
		onchange={() => (which = '')}
		data-field="if"
	>
		<option value="people">What if more people are in</option>
		<option value="automatic">What if a system does</option>
		{#if rungs.length}<option value="rung">What if nobody decides as</option>{/if}
		<option value="promise">What if it is promised within</option>
	</select>
	{#if kind === 'promise'}
		<input
			class="input"
			aria-label="Promised within"
			placeholder="such as 8h or 5d"
			bind:value={length}
			data-field="if-length"
		/>
	{:else}
		<select class="select" aria-label="Which" bind:value={which} data-field="if-which">
			<option value="">choose</option>
			{#each kind === 'people' ? editor.materials.teams : kind === 'rung' ? rungs : tasks as one (one.key)}<option
					value={one.key}>{one.name}</option
				>{/each}
		</select>
		{#if kind === 'people'}<label
				>by <input
					type="number"
					class="input number"
					min="-5"
					max="20"
					bind:value={number}
					data-field="if-number"
				/></label
			>{/if}
	{/if}
	<button type="button" class="btn plain small" disabled={!ready} onclick={add} data-do="add-if"
		>Change that</button
	>
</div>

<style>
	p {
		margin: 0;
	}
	.add {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.4rem;
	}
	.add :is(select, input) {
		width: auto;
		max-width: 15rem;
	}
	.add label {
		display: inline-flex;
		align-items: center;
		gap: 0.4rem;
	}
	.add .number {
		width: 4.5rem;
	}
</style>
