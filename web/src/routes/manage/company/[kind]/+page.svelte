<!-- What is kept of the company, a kind at a time: search, order, read a sheet, change one. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import { ask } from '$lib/query';
	import { download } from '$lib/download';
	import Care from '$lib/manage/Care.svelte';
	import ReadSheet from '$lib/manage/ReadSheet.svelte';
	import OneRecord from '$lib/manage/OneRecord.svelte';
	import { a, kinds, shown } from '$lib/manage/words';
	import { Act } from '$lib/ui/act.svelte';
	import Table from '$lib/ui/Table.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { _size as size } from './+page';

	let { data } = $props();
	const act = new Act();
	const kind = $derived(kinds[data.kind]);
	const fields = $derived(data.records.fields);
	const columns = $derived(
		shown[data.kind].map((key) => ({
			key,
			name: fields.find((f) => f.key === key)?.name ?? key,
			by: () => ''
		}))
	);
	let words = $state(untrack(() => data.query.words));
	let adding = $state(false);

	/** Goes on with another question to the list; what is left out stays as it is. */
	const look = (change: Record<string, string>) => ask(page.url, change, 'words' in change);
	let pause: ReturnType<typeof setTimeout>;
	function typed() {
		clearTimeout(pause);
		pause = setTimeout(() => void look({ words: words.trim(), page: '', one: '' }), 150);
	}
	function order(key: string) {
		const { sort, down } = data.query;
		void look(
			sort !== key
				? { sort: key, down: '', page: '' }
				: down
					? { sort: '', down: '', page: '' }
					: { down: 'yes', page: '' }
		);
	}
	const takeOut = () =>
		act.run(() => download(`/api/company/${data.kind}/sheet?as=xlsx`, `${data.kind}.xlsx`));
	const answer = (yes: boolean) => act.run(() => unwrap(api.POST('/api/care/leaving', { body: { yes } })));
</script>

<svelte:head><title>{kind.all} · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<div class="top">
		<h1>{kind.all}</h1>
		{#if !kind.only}<span class="soft mono" data-total>{data.records.total}</span>{/if}
	</div>
	<p class="soft">{kind.intro}</p>
	{#if data.care}<Care care={data.care} running={act.running} onanswer={answer} />{/if}
	<Trouble problem={act.problem} />
	{#if kind.only}
		<ReadSheet kind={data.kind} />
	{:else}
		<div class="tools">
			<input
				class="input search"
				bind:value={words}
				oninput={typed}
				aria-label="Search {kind.all.toLowerCase()}"
				placeholder="Search"
				maxlength="200"
				data-field="words"
			/>
			<ReadSheet kind={data.kind} />
			<button class="btn plain" onclick={() => (adding = true)} data-do="add">Add {a(kind.one)}</button>
			<button class="btn quiet" onclick={takeOut} disabled={act.running} data-do="take-out"
				>Take out as a sheet</button
			>
		</div>
		<Table
			label={kind.all}
			{columns}
			rows={data.records.entries}
			id={(r) => r.id}
			none={data.query.words
				? 'Nothing has these words.'
				: `There is no ${kind.one} yet: read a sheet, or add one.`}
			{size}
			data={(r) => ({ 'data-record': r.id })}
			served={{
				count: data.records.total,
				at: data.page,
				by: data.query.sort ? { key: data.query.sort, down: data.query.down } : undefined,
				order,
				turn: (at) => void look({ page: at > 1 ? String(at) : '' })
			}}
		>
			{#snippet cells(r)}
				{#each columns as column, i (column.key)}
					{#if i === 0}<th scope="row"
							><button class="open" onclick={() => void look({ one: r.id })}
								>{r.cells[column.key] || r.name}</button
							></th
						>{:else}<td class:soft={r.cells.active === 'no'}>{r.cells[column.key]}</td>{/if}
				{/each}
			{/snippet}
		</Table>
	{/if}
</main>

{#if data.opened}
	{#key data.opened.id}<OneRecord
			kind={data.kind}
			{fields}
			opened={data.opened}
			onclose={() => void look({ one: '' })}
		/>{/key}
{:else if adding}
	<OneRecord kind={data.kind} {fields} onclose={() => (adding = false)} />
{/if}

<style>
	.top {
		display: flex;
		gap: 0.75rem;
		align-items: baseline;
	}
	.tools {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		align-items: center;
		margin-top: 1rem;
	}
	.search {
		width: 16rem;
		flex: 1 1 14rem;
		max-width: 24rem;
	}
	.open {
		text-align: left;
		color: var(--sound);
		font-weight: 600;
	}
	.open:hover {
		text-decoration: underline;
	}
</style>
