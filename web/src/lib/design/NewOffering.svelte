<!-- A new offering: empty, a copy, or one of the starter set. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { ownOfferings } from '$lib/names.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import NamePicker from '$lib/ui/NamePicker.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { portfolio }: { portfolio: Schema['PortfolioBody'] } = $props();
	const act = new Act();
	let name = $state('');
	let service = $state(untrack(() => portfolio.services[0]?.key ?? ''));
	/** Such as starter:loan, or copy; empty for nothing. */
	let beginning = $state('');
	let copied = $state('');
	async function create() {
		const [sort, key] = beginning.split(':');
		const from = sort === 'copy' ? { copy: copied } : sort === 'starter' ? { starter: key } : {};
		const made = await act.run(() => unwrap(api.POST('/api/design', { body: { name, service, ...from } })));
		if (made) await goto(`/design/${made.document.key}/purpose`);
	}
</script>

<form
	onsubmit={(e) => {
		e.preventDefault();
		void create();
	}}
>
	<h2>A new offering</h2>
	<Field label="What can people ask for?"
		><input class="input" bind:value={name} maxlength="120" required data-field="new-offering" /></Field
	>
	<Field label="Service">
		<select class="select" bind:value={service} data-field="service">
			{#each portfolio.services as one (one.key)}<option value={one.key}>{one.area}: {one.name}</option
				>{/each}
		</select>
	</Field>
	<Field label="Begins">
		<select class="select" bind:value={beginning} data-field="beginning">
			<option value="">empty</option>
			<optgroup label="From the starter set">
				{#each portfolio.starters as one (one.key)}<option value="starter:{one.key}">{one.name}</option
					>{/each}
			</optgroup>
			<option value="copy">as a copy of one of yours</option>
		</select>
	</Field>
	{#if beginning === 'copy'}
		<div class="field">
			<label class="caption" for="copied">Which one?</label>
			<NamePicker
				from={ownOfferings}
				value={copied}
				label="Your offerings"
				control={{ id: 'copied', 'data-field': 'copied' }}
				onkey={(key) => (copied = key ?? '')}
			/>
		</div>
	{/if}
	<Trouble problem={act.problem} />
	<button class="btn do" disabled={act.running || !name.trim() || (beginning === 'copy' && !copied)}
		>Begin</button
	>
	<p class="hint">Nobody sees it before you publish.</p>
</form>

<style>
	form {
		background: var(--panel);
		padding: 1rem 1.1rem 1.25rem;
		border-top: 3px solid var(--ink);
		display: grid;
		gap: 0.75rem;
		justify-items: start;
	}
	form :global(.field) {
		width: 100%;
	}
</style>
