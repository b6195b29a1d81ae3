<!-- Many alike at once: what is ticked gets one decision, with one reason for all or one each. -->
<script module lang="ts">
	/** Reasons typed so far, by decision. */
	const reasons = $state<Record<string, string>>({});
</script>

<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { SvelteSet } from 'svelte/reactivity';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Price from '$lib/ui/Price.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { answerText, before } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const ticked = new SvelteSet<string>();
	/** The slip whose wishes one came for: they come first, and are ticked. */
	const slip = $derived(page.url.searchParams.get('slip') ?? '');
	let all = $state('');
	let refused = $state.raw<Schema['SeveralResult'][]>([]);
	let done = $state(0);
	const lines = $derived(
		data.waiting.entries.toSorted((a, b) => Number(b.together === slip) - Number(a.together === slip))
	);
	const key = (line: { request: string; rung: string }) => `${line.request}/${line.rung}`;
	untrack(() => {
		for (const line of lines) if (slip && line.together === slip) ticked.add(key(line));
	});
	const chosen = $derived(lines.filter((line) => ticked.has(key(line))));
	const alike = $derived(lines.filter((l) => chosen[0] && l.offering === chosen[0].offering));

	async function decide(decision: 'approve' | 'decline') {
		const decisions = chosen.map((line) => ({
			request: line.request,
			rung: line.rung,
			reason: reasons[key(line)] ?? ''
		}));
		const out = await act.run(() =>
			unwrap(api.POST('/api/decisions', { body: { decision, reason: all, decisions } }))
		);
		if (!out) return;
		refused = out.entries.filter((e) => e.problem);
		done = out.entries.length - refused.length;
		for (const e of out.entries)
			if (!e.problem) {
				ticked.delete(key(e));
				delete reasons[key(e)];
			}
		if (!refused.length) all = '';
	}
	/** Of those alike, the answers in which they differ. */
	function differs(line: Schema['DecisionLine']) {
		const others = lines.filter((l) => l.offering === line.offering && l.rung === line.rung);
		if (others.length < 2) return [];
		return (line.answers ?? []).filter(
			(a) => a.text && others.some((o) => o.answers?.find((b) => b.key === a.key)?.text !== a.text)
		);
	}
	const problemOf = (line: Schema['DecisionLine']) => refused.find((r) => key(r) === key(line))?.problem;
</script>

<svelte:head><title>Decide several · Heptad</title></svelte:head>
<h1>Decide several at once</h1>
{#if done || refused.length}<p class="done" class:not={refused.length} role="status" data-done={done}>
		{#if done}{done === 1 ? 'One decision is taken.' : `${done} decisions are taken.`}{/if}
		{#if refused.length}{refused.length === 1 ? 'One was' : `${refused.length} were`} not taken: see below.{/if}
	</p>{/if}
{#if lines.length === 0}
	<p>Nothing waits for your decision.</p>
{:else}
	<form class="act" onsubmit={(e) => e.preventDefault()}>
		<label
			><span class="small">Reason for all that have none of their own</span>
			<input class="input" bind:value={all} maxlength="2000" data-field="reason-for-all" /></label
		>
		<div class="buttons">
			<button class="btn do" onclick={() => decide('approve')} disabled={act.running || !chosen.length}
				>Approve {chosen.length}</button
			>
			<button class="btn plain" onclick={() => decide('decline')} disabled={act.running || !chosen.length}
				>Decline {chosen.length}</button
			>
			<button class="btn quiet" onclick={() => lines.forEach((l) => ticked.add(key(l)))}
				>Tick all {lines.length}</button
			>
			{#if chosen.length && alike.length > chosen.length}<button
					class="btn quiet"
					onclick={() => alike.forEach((l) => ticked.add(key(l)))}>Tick the {alike.length} alike</button
				>{/if}
			{#if chosen.length}<button class="btn quiet" onclick={() => ticked.clear()}>Tick none</button>{/if}
		</div>
		<Trouble problem={act.problem} />
	</form>
	<ul>
		{#each lines as line (key(line))}
			<li class:ticked={ticked.has(key(line))}>
				<label>
					<input
						type="checkbox"
						class="checkbox"
						checked={ticked.has(key(line))}
						onchange={(e) => (e.currentTarget.checked ? ticked.add(key(line)) : ticked.delete(key(line)))}
					/>
					<span>
						<strong>{line.title}</strong>{#if !line.title.includes(line.for ?? line.asker)}&nbsp;for {line.for ??
								line.asker}{/if}<br />
						<span class="soft small"
							>{line.rungName}{line.insteadOf ? `, in place of ${line.insteadOf}` : ''} · <Price
								price={line.price}
							/> · since <When time={line.since} /></span
						>
						{#if line.slip}<br /><span class="small soft">sent together: {line.slip}</span>{/if}
						{#if differs(line).length}<br /><span class="small" data-differs
								>{differs(line)
									.map((a) => `${before(a.label)} ${answerText(a.text)}`)
									.join(' · ')}</span
							>{/if}
					</span>
				</label>
				<span class="own">
					{#if ticked.has(key(line))}<input
							class="input"
							aria-label="Reason for {line.title}"
							placeholder="Its own reason, if it needs one"
							bind:value={reasons[key(line)]}
							maxlength="2000"
						/>{/if}
					<a class="small" href="/decide/{line.request}/{line.rung}">Look at it</a>
				</span>
				{#if problemOf(line)}<p class="problem small">{problemOf(line)}</p>{/if}
			</li>
		{/each}
	</ul>
{/if}

<style>
	.act {
		display: grid;
		gap: 0.5rem;
		padding-block: 0.7rem;
		border-block: 1px solid var(--line-strong);
		margin-top: 0.6rem;
		position: sticky;
		top: 3rem;
		background: var(--panel);
		z-index: 1;
	}
	.act label {
		display: grid;
	}
	.done {
		border-left: 4px solid var(--kelp);
		padding: 0.3rem 0.75rem;
		margin-top: 0.5rem;
	}
	.done.not {
		border-left-color: var(--buoy);
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 18rem);
		gap: 0.75rem;
		align-items: center;
		padding: 0.5rem 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	li > label {
		display: flex;
		gap: 0.75rem;
		align-items: flex-start;
	}
	li .checkbox {
		flex-shrink: 0;
	}
	.ticked {
		background: var(--sound-wash);
	}
	.own {
		display: flex;
		gap: 0.6rem;
		align-items: center;
		justify-content: flex-end;
		white-space: nowrap;
	}
	@media (max-width: 600px) {
		li {
			grid-template-columns: 1fr;
		}
	}
</style>
