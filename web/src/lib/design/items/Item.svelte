<!-- One item: what it is called, costs, and who can pick it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Cel from '../Cel.svelte';
	import { getEditor, keyFrom } from '../editor.svelte';
	import Found from '../Found.svelte';
	import PictureField from '$lib/ui/PictureField.svelte';
	import Rule from '../Rule.svelte';
	import Ticks from '../Ticks.svelte';
	import Charge from './Charge.svelte';
	import { keysOf, text, whole } from './fields';
	import Options from './Options.svelte';

	type Item = Schema['PriceItem'];
	/** i: its place in the list. */
	let { item = $bindable(), i }: { item: Item; i: number } = $props();
	const items = $derived(getEditor().document.items);
	function addGroup(item: Item) {
		item.options ??= [];
		const groups = item.options; // the kept list, not the new one that was given
		groups.push({ key: keyFrom('size', keysOf(groups), 'option'), name: 'Size', choices: [] });
	}
</script>

<div class="fields-2">
	<Field label="Name"><input class="input" bind:value={item.name} maxlength="200" /></Field>
	<Field label="Heading it stands under"
		><input
			class="input"
			value={item.group ?? ''}
			oninput={(e) => (item.group = text(e))}
			maxlength="100"
		/></Field
	>
</div>
<Field label="Text"
	><input
		class="input"
		value={item.text ?? ''}
		oninput={(e) => (item.text = text(e))}
		maxlength="1000"
	/></Field
>
<Charge bind:of={item.price} />
<div class="fields-4">
	<Field label="At least"
		><input
			class="input"
			type="number"
			min="1"
			value={item.min ?? ''}
			oninput={(e) => (item.min = whole(e))}
		/></Field
	>
	<Field label="At most"
		><input
			class="input"
			type="number"
			min="1"
			value={item.max ?? ''}
			oninput={(e) => (item.max = whole(e))}
		/></Field
	>
	{#if items.tax}<Field label="Other tax, in percent"
			><input class="input" value={item.tax ?? ''} oninput={(e) => (item.tax = text(e))} /></Field
		>{/if}
	<label class="tick"
		><input
			type="checkbox"
			class="checkbox"
			checked={item.default ?? false}
			onchange={(e) => (item.default = e.currentTarget.checked || undefined)}
		/> picked by itself</label
	>
</div>
<PictureField label="Picture" value={item.picture} onpicture={(uri) => (item.picture = uri)} />
{#if items.list.length > 1}
	<Ticks
		label="These do as well in its place"
		hint="Those who decide see what the cheapest of them would cost. None: nothing replaces it."
		none=""
		things={items.list.filter((other) => other.key !== item.key)}
		list={item.instead}
		field="instead"
		onlist={(list) => (item.instead = list)}
	/>
	<Found place="/items/list/{i}/instead" />
{/if}
<Options {item} />
{#each item.discounts ?? [] as discount, d (d)}
	<div class="inline">
		From <input
			class="input narrow"
			type="number"
			min="1"
			bind:value={discount.from}
			aria-label="From how many"
		/>
		on
		<input class="input narrow" bind:value={discount.percent} aria-label="Percent off" /> % off
		<button class="btn quiet small" onclick={() => item.discounts?.splice(d, 1)}>Remove</button>
	</div>
{/each}
<span>
	<button class="btn quiet small" data-do="add-options" onclick={() => addGroup(item)}
		>Add a choice within it</button
	>
	<button
		class="btn quiet small"
		onclick={() => (item.discounts = [...(item.discounts ?? []), { from: 5, percent: '5' }])}
		>Add a discount</button
	>
</span>
<details open={Boolean(item.count)}>
	<summary class="caption">How many is counted from answers</summary>
	<Cel
		label="How many {item.name}"
		place="/items/list/{i}/count"
		value={item.count ?? ''}
		onrule={(rule) => (item.count = rule || undefined)}
	/>
	<p class="hint">Such as sum(answers.people.map(p, p.shirts)); the asker then does not type it.</p>
</details>
<Found place="/items/list/{i}/count" />
<Rule
	begins="Can be picked"
	without="by all"
	place="/items/list/{i}/when"
	value={item.when}
	onrule={(rule) => (item.when = rule || undefined)}
/>
