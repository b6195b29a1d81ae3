<!-- What services may do in other systems: which action, and where its inputs may come from. -->
<script lang="ts">
	import Dialog from '$lib/ui/Dialog.svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Table from '$lib/ui/Table.svelte';
	import type { Column } from '$lib/ui/table';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { split } from '$lib/words';

	let { grants }: { grants: Schema['GrantsBody'] } = $props();
	const act = new Act();
	type May = 'free' | 'fixed' | 'beneficiary' | 'asker';
	const may: Record<May, string> = {
		beneficiary: 'of whom it is for',
		asker: 'of who asks',
		fixed: 'written in the offering',
		free: 'anything, also what is typed into the form'
	};

	const given = (g: Schema['GrantView']) => (g.words?.length ? g.words.join('; ') : 'any inputs');
	const columns: Column<Schema['GrantView']>[] = [
		{ key: 'service', name: 'Service', by: (g) => g.serviceName },
		{ key: 'system', name: 'System', by: (g) => g.connectorName },
		{ key: 'action', name: 'Action', by: (g) => g.actionName },
		{ key: 'with', name: 'With', by: given },
		{ key: 'granted', name: 'Granted', by: (g) => g.at ?? '' },
		{ key: 'deeds', name: 'Deeds', quiet: true }
	];

	let dialog = $state(false);
	let chosen = $state({ service: '', what: '', alone: false });
	let uses = $state<Record<string, { may: May; values: string }>>({});
	const actions = $derived(
		grants.connectors.flatMap((c) =>
			c.actions.map((a) => ({ id: `${c.key}/${a.key}`, connector: c, action: a }))
		)
	);
	const picked = $derived(actions.find((a) => a.id === chosen.what));
	/** The action needs somebody's yes, whoever it is about. */
	const sensitive = $derived(Boolean(picked?.action.sensitive || picked?.action.inputs.some((i) => i.group)));

	function pick(what: string) {
		chosen.what = what;
		chosen.alone = false;
		uses = Object.fromEntries(
			(actions.find((a) => a.id === what)?.action.inputs ?? []).map((i) => [
				i.key,
				{ may: i.person ? ('beneficiary' as const) : ('free' as const), values: '' }
			])
		);
	}
	function open(service = '') {
		chosen = { service, what: '', alone: false };
		uses = {};
		dialog = true;
	}
	function change(g: Schema['GrantView']) {
		open(g.service);
		pick(`${g.connector}/${g.action}`);
		chosen.alone = g.alone ?? false;
		for (const [key, use] of Object.entries(g.inputs ?? {}))
			uses[key] = { may: use.may, values: (use.values ?? []).join(', ') };
	}
	async function keep() {
		const [connector = '', action = ''] = chosen.what.split('/');
		const usual = (key: string) =>
			picked?.action.inputs.find((i) => i.key === key)?.person ? 'beneficiary' : 'free';
		const inputs = Object.fromEntries(
			Object.entries(uses)
				.filter(([key, use]) => use.may !== usual(key))
				.map(([key, use]) => [
					key,
					{ may: use.may, values: use.may === 'fixed' && use.values ? split(use.values) : undefined }
				])
		);
		const done = await act.run(() =>
			unwrap(
				api.PUT('/api/grants', {
					body: { service: chosen.service, connector, action, inputs, alone: chosen.alone || undefined }
				})
			)
		);
		if (done) dialog = false;
	}
	function revoke(g: Schema['GrantView']) {
		const words = `${g.serviceName} can no longer use “${g.actionName}”. What runs is stuck at its next call of it.`;
		if (!confirm(words)) return;
		void act.run(() =>
			unwrap(
				api.DELETE('/api/grants/{service}/{connector}/{action}', {
					params: { path: { service: g.service, connector: g.connector, action: g.action } }
				})
			)
		);
	}
</script>

<h2>What services may do in them</h2>
<p class="soft">
	Whoever designs an offering can only publish what is granted to its service here. What is marked <em
		>sensitive</em
	>
	always needs the yes of somebody who does not design it.
</p>
<Trouble problem={dialog ? undefined : act.problem} />
<p><button class="btn plain" onclick={() => open()} data-do="grant">Grant something more</button></p>
<div class="grants">
	<Table
		label="What services may do in other systems"
		{columns}
		rows={grants.entries}
		id={(g) => g.service + g.connector + g.action}
		none="Nothing is granted: no offering can do anything by itself."
		data={(g) => ({ 'data-grant': `${g.service}/${g.connector}/${g.action}` })}
	>
		{#snippet cells(g, above)}
			{@const again = above?.service === g.service}
			<th scope="row" class:again
				>{#if again}<span class="sr-only">{g.serviceName}</span>{:else}{g.serviceName}{/if}</th
			>
			<td>{g.connectorName}</td>
			<td
				>{g.actionName}{#if g.sensitive}<span class="small warn">&nbsp;sensitive</span>{/if}</td
			>
			<td class="small">{given(g)}</td>
			<td class="small soft"
				>{#if g.at}<When time={g.at} />{/if}{#if g.by}{' by ' + g.by}{/if}</td
			>
			<td class="deeds"
				><button class="btn quiet" onclick={() => change(g)}>Change</button>
				<button class="btn quiet" onclick={() => revoke(g)} disabled={act.running}>Revoke</button></td
			>
		{/snippet}
	</Table>
</div>

<Dialog bind:open={dialog} title="Grant an action to a service">
	<label
		><span>Service</span><select class="select" bind:value={chosen.service} data-field="grant-service"
			><option value="" disabled>choose</option>{#each grants.services as s (s.key)}<option value={s.key}
					>{s.name}</option
				>{/each}</select
		></label
	>
	<label
		><span>Action</span><select
			class="select"
			value={chosen.what}
			onchange={(e) => pick(e.currentTarget.value)}
			data-field="grant-action"
			><option value="" disabled>choose</option>{#each grants.connectors as c (c.key)}<optgroup label={c.name}
					>{#each c.actions as a (a.key)}<option value="{c.key}/{a.key}">{a.name}</option>{/each}</optgroup
				>{/each}</select
		>{#if picked}<span class="small soft"
				>In {picked.connector.name}{sensitive
					? ', sensitive: somebody who does not design it must decide'
					: ''}.</span
			>{/if}</label
	>
	{#each picked?.action.inputs ?? [] as input (input.key)}
		{@const use = uses[input.key]}
		{#if use}
			<label
				><span>{input.name}</span><select class="select" bind:value={use.may} data-field="use-{input.key}"
					>{#each Object.entries(may) as [key, words] (key)}<option value={key}>{words}</option
						>{/each}</select
				></label
			>
			{#if use.may === 'fixed'}<label
					><span class="small soft">Only these, with commas between; any when empty</span><input
						class="input"
						bind:value={use.values}
						maxlength="1000"
						data-field="values-{input.key}"
					/></label
				>{/if}
		{/if}
	{/each}
	{#if sensitive}
		<label class="tick"
			><input type="checkbox" class="checkbox" bind:checked={chosen.alone} /> Nobody need decide when it is about
			who asks</label
		>
	{/if}
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button
			class="btn do"
			onclick={keep}
			disabled={act.running || !chosen.service || !chosen.what}
			data-do="keep-grant">Grant it</button
		>
		<button class="btn plain" onclick={() => (dialog = false)}>Not now</button>
	</div>
</Dialog>

<style>
	h2 {
		margin-top: 1.4rem;
	}
	:global(.overlay) h2 {
		margin-top: 0;
	}
	.grants :global(tr:has(+ tr .again) > th) {
		border-bottom-color: transparent;
	}
	.warn {
		color: var(--buoy-text);
		font-weight: 600;
	}
	.deeds {
		white-space: nowrap;
	}
	:global(.overlay) label {
		display: grid;
		gap: 0.2rem;
		margin-block: 0.5rem;
	}
	:global(.overlay) .tick {
		display: block;
	}
</style>
