<!-- A board: its pages with their numbers; who made it arranges, shares, sends, keeps and puts it on the wall. -->
<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { api, unwrap } from '$lib/api/client';
	import BoardEdit from '$lib/measure/BoardEdit.svelte';
	import PageShown from '$lib/measure/PageShown.svelte';
	import Records from '$lib/measure/Records.svelte';
	import { heading } from '$lib/measure/shows';
	import Dialog from '$lib/ui/Dialog.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import { shortDate } from '$lib/words';

	let { data } = $props();
	const b = $derived(data.board);
	const path = $derived({ board: b.id });
	const act = new Act();
	let editing = $state(false);
	let keeping = $state(false);
	let dropping = $state(false);
	let day = $state('');
	let link = $state('');
	// it moves live
	$effect(() => {
		const again = setInterval(() => !editing && !document.hidden && void invalidateAll(), 30_000);
		return () => clearInterval(again);
	});
	const url = $derived(link && new URL(link, location.href).href);
	async function wall() {
		const made = await act.run(() => unwrap(api.POST('/api/boards/{board}/wall', { params: { path } })));
		if (made) link = made.path;
	}
	async function off() {
		await act.run(() => unwrap(api.DELETE('/api/boards/{board}/wall', { params: { path } })));
		link = '';
	}
	async function keep() {
		const kept = await act.run(() =>
			unwrap(api.POST('/api/boards/{board}/copies', { params: { path }, body: { day } }))
		);
		if (!kept) return;
		keeping = false;
		void tell(`A copy as of ${shortDate(kept.day)} is kept.`);
	}
	async function drop() {
		const gone = await act.run(async () => {
			await unwrap(api.DELETE('/api/boards/{board}', { params: { path } }));
			return true;
		});
		if (gone) await goto('/measure/boards');
	}
</script>

<svelte:head><title>{b.board.title} · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<header>
		<h1>{b.board.title}</h1>
		<p class="soft small">
			{b.own ? 'Yours' : `Of ${b.by}, counted as they may see it`}.
			{#if b.mailAt}It is sent next: <When time={b.mailAt} />.{/if}
		</p>
		{#if b.own}
			<div class="acts">
				<button class="btn plain" onclick={() => (editing = !editing)} data-do="edit-board"
					>{editing ? 'Leave it as it was' : 'Arrange and share'}</button
				>
				<button class="btn plain" onclick={() => (keeping = true)} data-do="keep-copy">Keep a copy</button>
				{#if b.wall}
					<button class="btn plain" onclick={off} disabled={act.running} data-do="off-wall"
						>Take it off the wall</button
					>
				{:else}
					<button class="btn plain" onclick={wall} disabled={act.running} data-do="on-wall"
						>Put it on the wall</button
					>
				{/if}
				<button class="btn quiet" onclick={() => (dropping = true)} data-do="drop-board">Throw it away</button
				>
			</div>
		{/if}
	</header>
	<Trouble problem={act.problem} />
	{#if url}
		<p class="link" role="status">
			Whoever opens this link sees the board without signing in, until you take it off. It is shown only now:
			<a class="mono" href={url} target="_blank" rel="noopener" data-wall={link}>{url}</a>
		</p>
	{/if}
	{#if b.stopped}<p class="stopped" role="alert">{b.stopped}</p>{/if}
	{#if editing}
		<BoardEdit board={b} ondone={() => (editing = false)} />
	{:else}
		{#each b.pages as page, i (i)}
			<section aria-label={heading(page)} data-page={i}>
				<h2>{heading(page)}</h2>
				<PageShown
					{page}
					figures={b.figures}
					currency={b.currency}
					href="/measure/boards/{b.id}?page={i}#records"
				/>
				{#if page.show !== 'stages'}<p class="small">
						<a href="/measure/boards/{b.id}?page={i}#records">Its records</a>
					</p>{/if}
				{#if data.records && data.page === i}
					<Records
						records={data.records}
						sentence={page.screen.sentence}
						figure={b.figures.find((f) => f.key === page.screen.sentence.figure)!}
						more={(after) =>
							unwrap(
								api.GET('/api/boards/{board}/records/{page}', {
									params: { path: { ...path, page: i }, query: { after } }
								})
							)}
					/>
				{/if}
			</section>
		{/each}
	{/if}
	{#if data.copies.length}
		<section>
			<h2>Copies</h2>
			<ul class="copies">
				{#each data.copies as c (c.id)}
					<li>
						<a href="/measure/boards/{b.id}/{c.id}" data-copy={c.day}>as of the end of {shortDate(c.day)}</a>
						<span class="soft small">kept by {c.madeBy} <When time={c.madeAt} /></span>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</main>
<Dialog bind:open={keeping} title="Keep a copy" name="keep-copy">
	<p class="soft">
		The numbers as they were at the end of a day: today, or one that is over. The copy stays as it is.
	</p>
	<DateField
		value={day}
		label="As of the end of"
		control={{ 'data-field': 'copy-day' }}
		onday={(d) => (day = d ?? '')}
	/>
	<Trouble problem={act.problem} />
	<p><button class="btn do" disabled={!day || act.running} onclick={keep} data-do="keep">Keep it</button></p>
</Dialog>
<Dialog bind:open={dropping} title="Throw the board away?" name="drop-board">
	<p>Its copies and its link go with it. What it counts stays.</p>
	<Trouble problem={act.problem} />
	<button class="btn do" disabled={act.running} onclick={drop} data-do="drop">Throw it away</button>
</Dialog>

<style>
	.wide {
		gap: 1.4rem;
		max-width: 76rem;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
		margin-top: 0.6rem;
	}
	.link {
		background: var(--sound-wash);
		padding: 0.6rem 0.8rem;
		overflow-wrap: anywhere;
	}
	.stopped {
		background: var(--buoy-wash);
		padding: 0.6rem 0.8rem;
	}
	section {
		min-width: 0;
	}
	.copies li {
		padding: 0.25rem 0;
	}
	.copies a {
		text-decoration: underline;
	}
	@media print {
		.acts {
			display: none;
		}
	}
</style>
