<!-- Where time goes, for one offering: two versions or two times one above the other. -->
<script lang="ts">
	import { page } from '$app/state';
	import Goes from '$lib/measure/Goes.svelte';
	import { ask } from '$lib/query';

	let { data } = $props();
	const c = $derived(data.chosen);
	const offering = $derived(data.choices.offerings.find((o) => o.key === c.offering));
	const go = (change: Record<string, string>) => ask(page.url, change);
	const both = $derived(
		Math.max(
			...[data.first, data.second].flatMap((g) =>
				g ? [g.whole * 1.08, ...g.steps.map((s) => s.start + s.waited + s.worked)] : [0]
			)
		)
	);
	const title = (g: NonNullable<typeof data.first>) =>
		`${g.version ? `Version ${g.version}` : 'All versions'}, in ${g.period.words}`;
</script>

<svelte:head><title>Where time goes · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<h1>Where time goes</h1>
	{#if !offering}
		<p>
			Here you see the steps of offerings, and how long each takes. None of a service that is yours was
			published yet.
		</p>
	{:else}
		{#snippet which(version: string, period: string, names: [string, string])}
			<select
				class="select"
				value={version}
				onchange={(e) => go({ [names[0]]: e.currentTarget.value })}
				aria-label="Version"
				data-field={names[0]}
			>
				<option value="0">all versions</option>
				{#each offering.versions as v (v)}<option value={String(v)}>version {v}</option>{/each}
			</select>
			in
			<select
				class="select"
				value={period}
				onchange={(e) => go({ [names[1]]: e.currentTarget.value })}
				aria-label="Time"
				data-field={names[1]}
			>
				{#each data.desk.periods as p (p.key)}<option value={p.key}>{p.name}</option>{/each}
			</select>
		{/snippet}
		<div class="sentence">
			<select
				class="select lead"
				value={c.offering}
				onchange={(e) => go({ offering: e.currentTarget.value, version: '', beside: '' })}
				aria-label="The offering"
				data-field="goes-offering"
			>
				{#each data.choices.offerings as o (o.key)}<option value={o.key}>{o.name}</option>{/each}
			</select>
			<span>,</span>
			{@render which(c.version, c.period, ['version', 'period'])}
			{#if c.beside === ''}
				<button
					class="btn quiet"
					onclick={() =>
						go(
							offering.versions.length > 1
								? { version: String(offering.versions[1]), beside: String(offering.versions[0]) }
								: { period: 'lastQuarter', beside: '0', then: 'quarter' }
						)}
					data-do="compare">compare</button
				>
			{:else}
				<span>beside</span>
				{@render which(c.beside, c.then, ['beside', 'then'])}
				<button class="btn quiet" onclick={() => go({ beside: '' })} data-do="alone">only one</button>
			{/if}
		</div>
		<p class="soft small key">
			<span><i class="waited"></i> waits, until it is decided or taken</span>
			<span><i class="worked"></i> in hand</span>
			<span><i class="spread"></i> four of five end here</span>
			<span><i class="critical"></i> the end hangs on it</span>
			<span>Open time of the team, of decisions that of the promise; each in the middle of all.</span>
		</p>
		{#if data.first}<Goes goes={data.first} whole={both} title={title(data.first)} />{/if}
		{#if data.second}<Goes goes={data.second} whole={both} title={title(data.second)} />{/if}
	{/if}
	{#if data.choices.handed.length}
		<section>
			<h2>What teams handed over to each other</h2>
			<p class="soft small">
				In the last twelve months and this one: tasks that lay with one team first, and were done by another.
			</p>
			<table>
				<thead
					><tr
						><th scope="col">From</th><th scope="col">To</th><th scope="col">Task</th><th scope="col"
							>Times</th
						></tr
					></thead
				>
				<tbody>
					{#each data.choices.handed as h (`${h.from} ${h.to} ${h.task}`)}
						<tr><td>{h.from}</td><td>{h.to}</td><td>{h.task}</td><td class="mono">{h.times}</td></tr>
					{/each}
				</tbody>
			</table>
		</section>
	{/if}
</main>

<style>
	.sentence {
		display: flex;
		flex-wrap: wrap;
		gap: 0.3rem 0.4rem;
		align-items: center;
	}
	.sentence .select {
		width: auto;
		min-height: 2rem;
		padding-block: 0.1rem;
		font-weight: 600;
		max-width: 100%;
	}
	.lead {
		font-family: var(--heading);
		font-size: 1.125rem;
	}
	.key {
		display: flex;
		flex-wrap: wrap;
		gap: 0.2rem 1.2rem;
	}
	.key i {
		display: inline-block;
		width: 1.4rem;
		height: 0.7rem;
		vertical-align: -0.05rem;
	}
	.key .waited {
		background: var(--sound-wash);
		box-shadow: inset 0 0 0 1px var(--sound);
	}
	.key .worked {
		background: var(--sound);
	}
	.key .spread {
		height: 0.35rem;
		border-bottom: 1px dashed var(--sound);
	}
	.key .critical {
		border-bottom: 3px solid var(--ink);
	}
	table {
		border-collapse: collapse;
		font-size: 0.875rem;
	}
	:is(th, td) {
		text-align: left;
		padding: 0.2rem 1.2rem 0.2rem 0;
		border-bottom: 1px solid var(--line);
		font-weight: 400;
	}
	thead th {
		color: var(--ink-soft);
	}
</style>
