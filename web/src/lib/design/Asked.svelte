<!-- Who may ask: everyone, those of a bundle, or those a rule names. One says it; nothing is said by itself. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import type { Schema } from '$lib/api/client';
	import Segments from '$lib/ui/Segments.svelte';
	import Found from './Found.svelte';
	import Rule from './Rule.svelte';

	type Props = {
		audience: Schema['OfferingDocument']['audience'];
		bundles: Schema['BundleLine'][];
	};
	let { audience, bundles }: Props = $props();
	type Who = 'everyone' | 'bundles' | 'rule' | '';
	const named = $derived(audience.bundles ?? []);
	const said = $derived<Who>(
		named.length ? 'bundles' : audience.ask ? 'rule' : audience.everyone === false ? '' : 'everyone'
	);
	/** What was chosen here, while it is not said whole yet. */
	let chosen = $state<Who>(untrack(() => said));
	const who = $derived(said || chosen);
	/** Named here, and not there any more. */
	const lost = $derived(named.filter((n) => !bundles.some((b) => b.key === n.key)));

	function choose(next: Who) {
		chosen = next;
		audience.everyone = next === 'everyone';
		if (next !== 'bundles') audience.bundles = undefined;
		if (next !== 'rule') audience.ask = undefined;
	}
	function tick(key: string, on: boolean) {
		const keys = named.filter((n) => n.key !== key).map((n) => ({ key: n.key }));
		const next = on ? [...keys, { key }] : keys;
		audience.bundles = next.length ? next : undefined;
		audience.everyone = false;
		chosen = 'bundles';
	}
</script>

<div class="who" data-who={who}>
	<Segments
		label="May be asked for by"
		shown
		value={who as 'everyone'}
		choices={[
			['everyone', 'everyone'],
			['bundles', 'those of a bundle'],
			['rule', 'those a rule names']
		]}
		onpick={choose}
	/>
	{#if who === 'bundles'}
		<ul>
			{#each bundles as bundle (bundle.key)}
				<li>
					<label class="tick">
						<input
							type="checkbox"
							class="checkbox"
							checked={named.some((n) => n.key === bundle.key)}
							onchange={(e) => tick(bundle.key, e.currentTarget.checked)}
							data-bundle={bundle.key}
						/>
						<span
							><strong>{bundle.name}</strong>
							<span class="soft small">{bundle.words || 'Nobody is in it yet.'}</span></span
						>
					</label>
				</li>
			{:else}
				<li class="soft">There is no bundle yet. An administrator makes them.</li>
			{/each}
			{#each lost as one (one.key)}
				<li>
					<label class="tick"
						><input type="checkbox" class="checkbox" checked onchange={() => tick(one.key, false)} />
						<span class="problem">{one.key} is not there any more</span></label
					>
				</li>
			{/each}
		</ul>
		{#each named as one, i (one.key)}<Found place="/audience/bundles/{i}" />{/each}
		<p class="small"><a href="/design/bundles">Look at the bundles</a>: who is in each, and why.</p>
		{#if named.length}
			<Rule
				begins="Of those,"
				without="all of them"
				place="/audience/ask"
				value={audience.ask}
				onrule={(rule) => (audience.ask = rule || undefined)}
			/>
		{/if}
	{:else if who === 'rule'}
		<Rule
			begins="May be asked for"
			place="/audience/ask"
			value={audience.ask}
			onrule={(rule) => (audience.ask = rule || undefined)}
		/>
	{/if}
</div>

<style>
	.who {
		display: grid;
		gap: 0.5rem;
		justify-items: start;
	}
	li {
		padding-block: 0.15rem;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
</style>
