<!-- Reads items from a spreadsheet: what is wrong in it is told line by line. -->
<script lang="ts">
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';
	import Progress from '$lib/ui/Progress.svelte';
	import { getEditor } from '../editor.svelte';
	const items = $derived(getEditor().document.items);
	let imported = $state.raw<Schema['PriceImported'] | undefined>();
	let reading = $state('');
	let trouble = $state('');

	async function read(file: File | undefined) {
		if (!file) return;
		trouble = '';
		reading = file.name;
		try {
			imported = await unwrap(
				api.POST('/api/items', {
					params: { query: { currency: items.currency } },
					body: file as unknown as string,
					bodySerializer: (b) => b as unknown as File,
					headers: { 'Content-Type': 'text/csv' }
				})
			);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			trouble = refused.problem.detail;
		} finally {
			reading = '';
		}
	}
	/** Puts what was read in: an item with a key that is there takes its place. */
	function bring() {
		for (const item of imported?.items ?? []) {
			const at = items.list.findIndex((i) => i.key === item.key);
			if (at >= 0) items.list[at] = { ...items.list[at], ...item };
			else items.list.push(item);
		}
		imported = undefined;
	}
</script>

<div class="import">
	<input
		id="items-file"
		class="sr-only"
		type="file"
		accept=".csv,text/csv"
		onchange={(e) => {
			void read(e.currentTarget.files?.[0]);
			e.currentTarget.value = '';
		}}
	/>
	<label class="btn plain" for="items-file">Read items from a CSV file</label>
	<span class="hint"
		>Columns: key, name, amount, and as you like per, text, group, min, max, currency, tax.</span
	>
	{#if reading}<p role="status"><Progress label="Reading {reading}" /> Reading {reading} …</p>{/if}
	{#if trouble}<p class="problem">{trouble}</p>{/if}
	{#if imported}
		<div class="read" role="status" data-imported={imported.items.length}>
			{#if imported.problems.length}
				<p>
					<strong>Nothing was brought in.</strong>
					{imported.lines} lines were read; {imported.problems.length + (imported.more ?? 0)} problems:
				</p>
				<ol class="problems">
					{#each imported.problems as p, i (i)}<li>
							Line {p.line}{p.column ? `, ${p.column}` : ''}: {p.sentence}
						</li>{/each}
				</ol>
				{#if imported.more}<p>and {imported.more} more.</p>{/if}
				<button class="btn plain" onclick={() => (imported = undefined)}>Close</button>
			{:else}
				<p>
					{imported.items.length} items are good;
					{imported.items.filter((n) => items.list.some((i) => i.key === n.key)).length} of them take the place
					of items that are here.
				</p>
				<button class="btn do" onclick={bring}>Bring them in</button>
				<button class="btn plain" onclick={() => (imported = undefined)}>Leave it</button>
			{/if}
		</div>
	{/if}
</div>

<style>
	.read {
		border-left: 4px solid var(--brass);
		padding: 0.4rem 0.75rem;
		margin-top: 0.5rem;
	}
	.problems {
		font-size: 0.875rem;
	}
	.sr-only:focus-visible + .btn {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
</style>
