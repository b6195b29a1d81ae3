<!-- A spreadsheet that is looked through: what it would change, what is wrong and how it is mended, then all at once. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Columns from '$lib/manage/Columns.svelte';
	import SheetLines from '$lib/manage/SheetLines.svelte';
	import SheetWrong from '$lib/manage/SheetWrong.svelte';
	import { kinds, type Kind } from '$lib/manage/words';
	import { Act } from '$lib/ui/act.svelte';
	import Progress from '$lib/ui/Progress.svelte';
	import Segments from '$lib/ui/Segments.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	const s = $derived(data.sheet);
	const kind = $derived(s.kind as Kind);
	const path = $derived({ sheet: s.id });
	const wrong = $derived(s.counts['wrong'] ?? 0);
	const waits = $derived(s.counts['waits'] ?? 0);
	const out = $derived(wrong + waits);
	const news = $derived((s.counts['new'] ?? 0) + (s.counts['changed'] ?? 0));
	let leaveWrong = $state(false);
	let gone = $state(false);
	let result = $state.raw<Schema['DoneView'] | undefined>();
	/** How far the doing is, while it goes on. */
	let under = $state.raw<{ done: number; of: number } | undefined>();

	type Edit = {
		columns?: Record<string, string>;
		field?: string;
		value?: string;
		line?: number;
		means?: string;
		leave?: number;
	};
	const edit = (body: Edit) =>
		act.run(() => unwrap(api.PUT('/api/sheets/{sheet}', { params: { path }, body })));

	async function doIt() {
		under = { done: 0, of: news };
		const look = setInterval(() => void far(), 400);
		const all = await act.run(() =>
			unwrap(api.POST('/api/sheets/{sheet}', { params: { path }, body: { leaveWrong, gone } }))
		);
		clearInterval(look);
		under = undefined;
		if (all) result = all;
	}
	async function far() {
		const { data: seen } = await api.GET('/api/sheets/{sheet}', { params: { path } });
		if (seen?.under && under) under = seen.under;
	}
	async function drop() {
		const dropped = await act.run(() => unwrap(api.DELETE('/api/sheets/{sheet}', { params: { path } })));
		if (dropped) await goto(`/manage/company/${kind}`);
	}
	const states = $derived(
		(
			[
				['all', 'All'],
				['wrong', 'Wrong'],
				['waits', 'Waiting for another'],
				['new', 'New'],
				['changed', 'Changed'],
				['same', 'The same'],
				['left', 'Left out']
			] as const
		).map(([key, name]) => [key, key === 'all' ? name : `${name} ${s.counts[key] ?? 0}`] as const)
	);
	const show = (state: string) =>
		goto(state === 'all' ? page.url.pathname : `?state=${state}`, { noScroll: true, keepFocus: true });
	const people = (n: number) => (n === 1 ? 'One person' : `${n} people`);
</script>

<svelte:head><title>{s.name} · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1" data-kind={kind}>
	<p class="eyebrow"><a href="/manage/company/{kind}">{kinds[kind].all}</a></p>
	<h1>{s.name}</h1>
	{#if s.finished}
		<p class="done" role="status" data-done>
			{#if result}Done: {result.new} new, {result.changed} changed{#if result.leftOut}, {result.leftOut} left out{/if}.
				{#if result.gone}{people(result.gone)} became inactive.{/if}
				{#if result.waiting}{people(result.waiting)} wait for a yes before they become inactive.{/if}
			{:else}This sheet was done.{/if}
		</p>
		<p><a href="/manage/company/{kind}">To {kinds[kind].all.toLowerCase()}</a></p>
	{:else}
		<p class="sum" data-sum>
			<strong>{s.counts['new'] ?? 0}</strong> new, <strong>{s.counts['changed'] ?? 0}</strong> changed,
			<strong class:warn={wrong}>{wrong}</strong> wrong, {s.counts['same'] ?? 0} as they are{#if s.counts['left']},
				{s.counts['left']} left out{/if}. <span class="soft">Nothing is done yet.</span>
		</p>
		{#each s.notes as note (note)}<p class="note">{note}</p>{/each}
		<Columns sheet={s} running={act.running} onchoose={(columns) => void edit({ columns })} />
		{#if s.wrong.length}
			<SheetWrong sheet={s} running={act.running} onmend={(e) => void edit(e)} />
		{/if}
		{#if !s.missing.length}
			<section class="doing">
				{#if out}<label class="tick"
						><input type="checkbox" class="checkbox" bind:checked={leaveWrong} data-field="leave-wrong" />
						Leave the {out}
						{out === 1 ? 'line' : 'lines'} out that {out === 1 ? 'is' : 'are'} not right</label
					>{/if}
				{#if kind === 'people' && s.goneAll}<label class="tick"
						><input type="checkbox" class="checkbox" bind:checked={gone} data-field="gone" />
						{people(s.goneAll)} who stand in no line become inactive
						<span class="soft small">({s.gone.slice(0, 5).join(', ')}{s.goneAll > 5 ? ' …' : ''})</span
						></label
					>{:else if s.goneAll}<p class="soft small">
						{s.goneAll} that are kept here stand in no line; they stay as they are.
					</p>{/if}
				<Trouble problem={act.problem} />
				{#if under}<Progress
						label="Being done: {under.done} of {under.of}"
						share={under.of ? under.done / under.of : undefined}
					/>{/if}
				<div class="buttons">
					<button
						class="btn do"
						onclick={doIt}
						disabled={act.running || (out > 0 && !leaveWrong) || (news === 0 && !gone)}
						data-do="do-sheet">{news || gone ? `Do it: ${news} lines` : 'Nothing to do'}</button
					>
					<button class="btn plain" onclick={drop} disabled={act.running} data-do="drop-sheet"
						>Throw it away</button
					>
					{#if out && !leaveWrong}<span class="soft small">Mend what is wrong first, or leave it out.</span
						>{/if}
				</div>
			</section>
			<h2>Line by line</h2>
			<Segments label="Which lines" choices={states} value={data.state ?? 'all'} onpick={show} />
			<SheetLines sheet={s} running={act.running} onleave={(line) => void edit({ leave: line })} />
			{#if s.more}<p>
					<a
						href="?{new URLSearchParams({
							...(data.state ? { state: data.state } : {}),
							after: String(s.lines.at(-1)?.line ?? 0)
						})}">The next lines</a
					>
				</p>{/if}
		{:else}<button class="btn plain" onclick={drop} disabled={act.running}>Throw it away</button>{/if}
	{/if}
</main>

<style>
	.sum strong {
		font-family: var(--mono);
	}
	.warn {
		color: var(--buoy-text);
	}
	.note {
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
		margin-block: 0.3rem;
	}
	.doing {
		display: grid;
		gap: 0.6rem;
		margin-block: 1.25rem;
		padding-block: 0.9rem;
		border-block: 1px solid var(--line);
	}
	.doing .buttons {
		align-items: center;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	h2 {
		margin-bottom: 0.5rem;
	}
	.done {
		border-left: 4px solid var(--kelp);
		padding-left: 0.75rem;
		margin-block: 0.75rem;
	}
</style>
