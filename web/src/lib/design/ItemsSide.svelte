<!-- The items side: what can be picked, and what it costs. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { byThe, per } from '$lib/words';
	import { getEditor, move, setDrop } from './editor.svelte';
	import Found from './Found.svelte';
	import Extras from './items/Extras.svelte';
	import Import from './items/Import.svelte';
	import Item from './items/Item.svelte';
	import WholePrice from './items/WholePrice.svelte';
	import Lines from './Lines.svelte';
	import Part from './Part.svelte';

	const editor = getEditor();
	const items = $derived(editor.document.items);

	setDrop((from, to) => move(items.list, from, to - from));
	function add(line: Schema['LinesLine'], alone: boolean) {
		if (line.extra) items.extras = [...(items.extras ?? []), line.extra];
		if (!line.item) return;
		items.list.push(line.item);
		if (alone) editor.open[`/items/list#${line.item.key}`] = true;
	}
</script>

<Field label="Currency" hint="A code of ISO 4217, such as EUR.">
	<input class="input narrow mono" bind:value={items.currency} maxlength="3" />
</Field>
<Found place="/items/currency" />
<ol>
	{#each items.list as item, i (item.key)}
		<Part
			title={item.name || 'Without a name'}
			note="{item.price.currency ?? items.currency} {item.price.amount} {byThe(item.price.unit)}{per[
				item.price.per
			]}"
			place="/items/list/{i}"
			part={item.key}
			at={i}
			of={items.list.length}
			onmove={(step) => move(items.list, i, step)}
			onremove={() => editor.remove(item.name, () => items.list.splice(i, 1))}
		>
			<Item bind:item={items.list[i]!} {i} />
		</Part>
	{/each}
</ol>
<Lines
	side="items"
	label="Another item, or many in lines"
	placeholder="Key fob, 2.00 a month, at most 3"
	button="Add item"
	field="new-item"
	inserts={[{ heading: 'what it costs', words: [', 10.00', ', 10.00 a month', ', 10.00 a year', ', free'] }]}
	examples={[
		'Key fob, 2.00 a month, at most 3',
		'Deck uniform, 145.00, Size: S | M | L +5.00, under Clothes',
		'Cabin, free, when department is Fleet',
		'+ Wall mount, 15.00    an extra of the item before'
	]}
	onadd={add}
/>

<Import />
<Extras />
<WholePrice />
