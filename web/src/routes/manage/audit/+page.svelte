<!-- The audit: who did what, when; filtered, verified, taken out. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { ask, asked } from '$lib/query';
	import { download } from '$lib/download';
	import ActLine from '$lib/manage/ActLine.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	let verified = $state.raw<Schema['VerifiedBody'] | undefined>();

	const look = (change: Record<string, string>) => ask(page.url, { before: '', ...change });
	const verify = async () => (verified = await act.run(() => unwrap(api.POST('/api/audit/verify'))));
	const takeOut = () =>
		act.run(() => download(`/api/audit/rows?${new URLSearchParams(data.asked)}`, 'audit.jsonl'));
	const older = $derived(asked(page.url, { before: String(data.acts.entries.at(-1)?.id ?? 0) }));
</script>

<svelte:head><title>Audit · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<div class="top">
		<h1>Audit</h1>
		<div class="buttons">
			<button class="btn plain" onclick={verify} disabled={act.running} data-do="verify"
				>Verify the chain</button
			>
			<button class="btn plain" onclick={takeOut} disabled={act.running} data-do="take-out"
				>Take it out</button
			>
		</div>
	</div>
	<p class="soft">
		Every act that is not part of a request's history. Rows are only ever added, each chained to the one
		before.
	</p>
	{#if verified}
		<p
			class="verdict"
			class:bad={verified.wrong.length}
			role="status"
			data-verified={verified.wrong.length ? 'no' : 'yes'}
		>
			{#if verified.wrong.length}{verified.wrong.join('; ')}.{:else}All {verified.rows} rows of the audit and of
				history are as they were written.{/if}
		</p>
	{/if}
	<Trouble problem={act.problem} />
	<div class="filters">
		<Field label="Who did it" several>
			{#key data.asked.person}<PersonPicker
					name={data.who}
					control={{ id: 'who', 'aria-label': 'Who did it' }}
					onpick={(p) => void look({ person: p?.id ?? '', who: p?.name ?? '' })}
				/>{/key}
		</Field>
		<Field label="What was done"
			><select
				class="select"
				value={data.asked.act}
				onchange={(e) => void look({ act: e.currentTarget.value })}
				data-field="act"
			>
				<option value="">anything</option>
				{#each data.acts.acts as a (a.act)}<option value={a.act}>{a.words}</option>{/each}
			</select></Field
		>
		<Field label="From" several
			><DateField
				label="From"
				value={data.asked.from}
				onday={(day) => void look({ from: day ?? '' })}
			/></Field
		>
		<Field label="Until" several
			><DateField
				label="Until"
				value={data.asked.until}
				onday={(day) => void look({ until: day ?? '' })}
			/></Field
		>
	</div>
	{#if data.asked.thing}<p>
			Only of <strong>{data.what || data.asked.thing}</strong>.
			<button class="btn quiet" onclick={() => void look({ thing: '', what: '' })}>Of everything</button>
		</p>{/if}
	<ul>
		{#each data.acts.entries as one (one.id)}
			<li data-act={one.act}>
				<span class="mono soft small">{one.id}</span>
				<div><ActLine act={one} /></div>
				{#if one.thing && !data.asked.thing}<button
						class="btn quiet small"
						onclick={() => void look({ thing: one.thing ?? '', what: one.name ?? '' })}
						>All of it<span class="sr-only">: {one.name}</span></button
					>{/if}
			</li>
		{:else}<li class="soft">Nothing was done like that.</li>{/each}
	</ul>
	{#if data.acts.more}<p><a href={older}>Older</a></p>{/if}
</main>

<style>
	.top {
		display: flex;
		justify-content: space-between;
		align-items: baseline;
		flex-wrap: wrap;
		gap: 0.5rem;
	}
	.verdict {
		border-left: 4px solid var(--kelp);
		padding-left: 0.75rem;
		margin-block: 0.6rem;
	}
	.verdict.bad {
		border-color: var(--buoy);
		color: var(--buoy-text);
	}
	.filters {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(12rem, 1fr));
		gap: 0.75rem 1rem;
		margin-block: 1rem;
		align-items: start;
	}
	ul {
		border-top: 2px solid var(--ink);
	}
	li {
		display: grid;
		grid-template-columns: 3.5rem minmax(0, 1fr) auto;
		gap: 0.5rem;
		align-items: baseline;
		padding: 0.3rem 0;
		border-bottom: 1px solid var(--line);
	}
	li .btn {
		padding-block: 0;
	}
</style>
