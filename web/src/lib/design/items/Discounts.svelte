<!-- Discounts on several items together. -->
<script lang="ts">
	import AddLine from '../AddLine.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Ticks from '../Ticks.svelte';
	import { keysOf } from './fields';
	const editor = getEditor();
	const items = $derived(editor.document.items);
</script>

{#each items.discounts ?? [] as discount, i (i)}
	<div class="nested">
		<div class="inline">
			<input class="input" bind:value={discount.name} aria-label="Name of discount {i + 1}" />
			from
			<input
				class="input narrow"
				type="number"
				min="1"
				bind:value={discount.from}
				aria-label="From how many together, discount {i + 1}"
			/>
			together
			<input class="input narrow" bind:value={discount.percent} aria-label="Percent off, discount {i + 1}" />
			% off
			<button
				class="btn quiet small"
				onclick={() => editor.remove(discount.name, () => items.discounts?.splice(i, 1))}>Remove</button
			>
		</div>
		<Ticks
			label="Of these items together"
			none="There are no items yet."
			things={items.list}
			list={discount.items}
			field="discount-item"
			onlist={(list) => (discount.items = list ?? [])}
		/>
		<Found place="/items/discounts/{i}" />
	</div>
{/each}
<AddLine
	label="A discount on several items together"
	placeholder="What for?"
	button="Add discount"
	field="new-discount"
	onadd={(words) =>
		(items.discounts = [
			...(items.discounts ?? []),
			{ name: words, from: 10, percent: '5', items: keysOf(items.list) }
		])}
/>
