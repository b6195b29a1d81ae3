<!-- What counts: values of a side, chosen by name, each with how many there are. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Dialog from '$lib/ui/Dialog.svelte';
	import { narrowed, timely, type Sentence, type Side } from './sentence';
	import { count, fully } from './words';

	type Props = {
		open: boolean;
		sides: { key: string; name: string }[];
		sentence: Sentence;
		/** The side that is opened first. */
		first: Side;
		onchange: (s: Sentence) => void;
	};
	let { open = $bindable(), sides, sentence, first, onchange }: Props = $props();
	let side = $derived<Side>(first);
	let words = $state('');
	let chosen = $derived<string[]>(sentence.only?.find((n) => n.side === side)?.keys ?? []);
	const choices = $derived(sides.filter((s) => !timely(s.key)));
	const values = $derived(
		open
			? unwrap(api.POST('/api/measure/values', { params: { query: { side, words } }, body: sentence })).then(
					(found) => found.values
				)
			: Promise.resolve([] as Schema['ValueView'][])
	);
	const toggle = (key: string) =>
		(chosen = chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
	function take(keys: string[]) {
		open = false;
		onchange(narrowed(sentence, side, keys));
	}
</script>

<Dialog bind:open title="What counts" name="narrow">
	<div class="which">
		<select class="select" bind:value={side} aria-label="Told apart by" data-field="narrow-side">
			{#each choices as s (s.key)}<option value={s.key}>{s.name}</option>{/each}
		</select>
		<input
			class="input"
			type="search"
			bind:value={words}
			aria-label="Part of a name"
			placeholder="Part of a name"
			data-field="narrow-words"
		/>
	</div>
	{#await values}
		<p class="soft">Looking…</p>
	{:then found}
		<ul>
			{#each found as v (v.key)}
				<li>
					<label
						><input
							type="checkbox"
							class="checkbox"
							checked={chosen.includes(v.key)}
							onchange={() => toggle(v.key)}
							data-value={v.key}
						/>
						<span>{fully(side, v.key, v.name)}</span>
						<span class="mono soft small">{count(v.records)}</span></label
					>
				</li>
			{:else}<li class="soft">There is nothing of that in this time.</li>{/each}
		</ul>
	{:catch refused}
		<p role="alert">{refused.message}</p>
	{/await}
	<div class="acts">
		<button class="btn do" onclick={() => take(chosen)} data-do="narrow"
			>{chosen.length ? 'Count these' : 'Count all'}</button
		>
		{#if chosen.length}<button class="btn plain" onclick={() => take([])} data-do="widen">Count all</button
			>{/if}
	</div>
</Dialog>

<style>
	.which {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.5rem;
		margin-bottom: 0.6rem;
	}
	ul {
		max-height: 20rem;
		overflow-y: auto;
		border-block: 1px solid var(--line);
	}
	label {
		display: grid;
		grid-template-columns: auto 1fr auto;
		gap: 0.5rem;
		padding: 0.25rem 0;
		align-items: center;
	}
	.acts {
		display: flex;
		gap: 0.5rem;
		margin-top: 0.8rem;
	}
</style>
