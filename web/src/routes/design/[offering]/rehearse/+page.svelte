<!-- Living through a draft: the time below, the sheet of the moment above, cast and mishaps at the side. -->
<script lang="ts">
	import { onMount } from 'svelte';
	import { getEditor } from '$lib/design/editor.svelte';
	import Head from '$lib/design/rehearse/Head.svelte';
	import KeepCase from '$lib/design/rehearse/KeepCase.svelte';
	import Now from '$lib/design/rehearse/Now.svelte';
	import Past from '$lib/design/rehearse/Past.svelte';
	import TimeLine from '$lib/design/rehearse/TimeLine.svelte';
	import { getRehearsal } from '$lib/design/rehearse/rehearsal.svelte';
	import { getTrial } from '$lib/design/trial.svelte';
	import Tabs from '$lib/ui/Tabs.svelte';
	import { at } from '$lib/words';

	const editor = getEditor();
	const rehearsal = getRehearsal();
	const trial = getTrial();
	const result = $derived(rehearsal.result);
	const unsent = $derived(result?.end === 'unsent');
	const refused = $derived(result?.refused ?? []);

	let begun = false;
	onMount(() => void start());
	$effect(() => {
		if (trial.form && !begun) void start();
	});
	async function start() {
		if (begun || !trial.form) return;
		begun = true;
		await rehearsal.run('end');
		rehearsal.go(0);
	}
	const many = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
	const ends = {
		closed: 'closed',
		until: 'reached the instant that was asked for',
		quiet: 'stands still',
		tooLong: 'was stopped',
		unsent: 'could not be sent'
	} as const;
</script>

<svelte:head><title>{editor.document.purpose.name} · Rehearse · Heptad</title></svelte:head>
<p class="eyebrow">{editor.document.purpose.name}</p>
<h1>Rehearse <span class="soft note">live through it before anybody is touched</span></h1>

{#if rehearsal.trouble}<p class="problem" role="alert" data-trouble>{rehearsal.trouble.text}</p>{/if}
{#if unsent}
	<div class="unsent" data-unsent>
		<p><strong>It cannot be sent like this.</strong></p>
		{#each refused as r, i (i)}
			<p>{r.sentence}</p>
			{#each r.details ?? [] as detail (detail)}<p class="small">{detail.replace(/^\S*: /, '')}</p>{/each}
		{/each}
		<p class="hint">
			Fill in the form under <em>Who asks, and the form</em>, at the side{#if editor.document.cases?.length},
				or begin with the answers of a case:{:else}.{/if}
		</p>
		{#if editor.document.cases?.length}
			<p class="from">
				{#each editor.document.cases as c, i (i)}<button
						class="btn plain small"
						onclick={() => void rehearsal.from(c.script)}
						data-from={i}>{c.name}</button
					>{/each}
			</p>
		{/if}
	</div>
{:else if result}
	<p class="small summary" data-end={result.end}>
		Sent {at(result.events[0]?.at ?? result.until)}; it {ends[result.end]}
		{at(result.until)}{#if result.request.outcome}, {result.request.outcome}{/if}. {many(
			result.counts.rungs,
			'decision'
		)}, {many(result.counts.tasks, 'task')}, {many(result.counts.messages, 'message')}, {many(
			result.counts.calls,
			'call'
		)}.
		{#if result.promise?.kept !== undefined}The promise is <strong
				>{result.promise.kept ? 'kept' : 'missed'}</strong
			>.{/if}
		{#if result.why}{result.why}{/if}
	</p>
	<Head />
	<Tabs
		label="At this instant"
		parts={[
			['now', 'What each sees'],
			['events', 'What happened, and why'],
			['messages', 'Messages'],
			['calls', 'Calls'],
			['keep', 'Keep as a case']
		] as const}
	>
		{#snippet children(part)}
			{#if part === 'now'}<Now />{:else if part === 'keep'}<KeepCase />{:else}<Past what={part} />{/if}
		{/snippet}
	</Tabs>
	{#if refused.length}
		<p class="fact">Not allowed</p>
		{#each refused as r, i (i)}<p class="small problem" data-refused={r.code}>
				{at(r.at)}: {r.sentence}
			</p>{/each}
	{/if}
	<TimeLine />
{:else if trial.trouble}<p class="problem">{trial.trouble}</p>{/if}

<style>
	.note {
		font:
			400 1rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
	.unsent {
		border-left: 4px solid var(--buoy);
		background: var(--buoy-wash);
		padding: 0.5rem 0.75rem;
		margin-top: 0.8rem;
	}
	.summary {
		margin-block: 0.3rem 0.7rem;
	}
	.from {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem;
	}
</style>
