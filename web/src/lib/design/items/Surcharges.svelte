<!-- Surcharges, in percent or fixed, under a rule. -->
<script lang="ts">
	import { per } from '$lib/words';
	import AddLine from '../AddLine.svelte';
	import { getEditor, keyFrom } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Rule from '../Rule.svelte';
	import Ticks from '../Ticks.svelte';
	import { keysOf } from './fields';
	const editor = getEditor();
	const items = $derived(editor.document.items);
	const addSurcharge = (words: string) =>
		(items.surcharges = [
			...(items.surcharges ?? []),
			{ key: keyFrom(words, keysOf(items.surcharges ?? []), 'surcharge'), name: words, percent: '0' }
		]);
</script>

{#each items.surcharges ?? [] as surcharge, i (surcharge.key)}
	<div class="nested">
		<div class="inline">
			<input class="input" bind:value={surcharge.name} aria-label="Name of surcharge {i + 1}" />
			{#if surcharge.fixed}
				<input
					class="input mono narrow"
					bind:value={surcharge.fixed.amount}
					aria-label="Amount of surcharge {i + 1}"
				/>
				<select class="select narrow" bind:value={surcharge.fixed.per} aria-label="Due of surcharge {i + 1}">
					{#each Object.entries(per) as [key, words] (key)}<option value={key}>{words}</option>{/each}
				</select>
			{:else}
				<input
					class="input narrow"
					bind:value={surcharge.percent}
					aria-label="Percent of surcharge {i + 1}"
				/>
				%
			{/if}
			<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={Boolean(surcharge.fixed)}
					onchange={(e) => {
						surcharge.fixed = e.currentTarget.checked ? { amount: '0', per: 'once' } : undefined;
						surcharge.percent = e.currentTarget.checked ? undefined : '0';
					}}
				/> fixed</label
			>
			<button
				class="btn quiet small"
				onclick={() => editor.remove(surcharge.name, () => items.surcharges?.splice(i, 1))}>Remove</button
			>
		</div>
		<Ticks
			label="Of"
			hint="Everything picked when none is ticked."
			none="There are no items yet."
			things={items.list}
			list={surcharge.items}
			field="surcharge-item"
			onlist={(list) => (surcharge.items = list)}
		/>
		<Rule
			begins="Charged"
			without="always"
			place="/items/surcharges/{i}/when"
			value={surcharge.when}
			onrule={(rule) => (surcharge.when = rule || undefined)}
		/>
		<Found place="/items/surcharges/{i}" />
	</div>
{/each}
<AddLine
	label="A surcharge"
	placeholder="What for?"
	button="Add surcharge"
	field="new-surcharge"
	onadd={addSurcharge}
/>
