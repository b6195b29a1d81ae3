<script lang="ts">
	import AddLine from './AddLine.svelte';
	import Field from './Field.svelte';
	import Found from './Found.svelte';
	import Part from './Part.svelte';
	import { per } from '$lib/words';
	import { getEditor, keyFrom, move } from './editor.svelte';

	const editor = getEditor();
	const items = $derived(editor.document.items);
	let open = $state<Record<string, boolean>>({});

	function add(words: string) {
		const key = keyFrom(
			words,
			items.list.map((i) => i.key),
			'item'
		);
		items.list.push({ key, name: words, price: { amount: '0', per: 'once' } });
		open[key] = true;
	}
</script>

<Field label="Currency" hint="A code of ISO 4217, such as EUR.">
	<input class="input short mono" bind:value={items.currency} maxlength="3" />
</Field>
<Found place="/items/currency" />
<ol>
	{#each items.list as item, i (item.key)}
		<Part
			title={item.name || 'Without a name'}
			note="{items.currency} {item.price.amount} {per[item.price.per]}"
			place="/items/list/{i}"
			first={i === 0}
			last={i === items.list.length - 1}
			bind:open={() => open[item.key] ?? false, (o) => (open[item.key] = o)}
			onmove={(step) => move(items.list, i, step)}
			onremove={() => editor.remove(item.name, () => items.list.splice(i, 1))}
		>
			<Field label="Name"><input class="input" bind:value={item.name} maxlength="200" /></Field>
			<Field label="Text"
				><input
					class="input"
					value={item.text ?? ''}
					oninput={(e) => (item.text = e.currentTarget.value)}
					maxlength="1000"
				/></Field
			>
			<div class="pair">
				<Field label="Price"
					><input
						class="input mono"
						inputmode="decimal"
						bind:value={item.price.amount}
						maxlength="20"
						data-field="amount"
					/></Field
				>
				<Field label="Due">
					<select class="select" bind:value={item.price.per} data-field="per">
						{#each Object.entries(per) as [key, words] (key)}<option value={key}>{words}</option>{/each}
					</select>
				</Field>
			</div>
		</Part>
	{/each}
</ol>
<AddLine
	label="Another item"
	placeholder="What can be picked?"
	button="Add item"
	field="new-item"
	onadd={add}
/>

<style>
	.pair {
		display: grid;
		grid-template-columns: 10rem 10rem;
		gap: 0.75rem;
	}
	.short {
		width: 6rem;
	}
</style>
