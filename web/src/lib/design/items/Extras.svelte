<!-- Extras: lines of their own below the items they fit. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { byThe, per } from '$lib/words';
	import AddLine from '../AddLine.svelte';
	import { getEditor, keyFrom, move } from '../editor.svelte';
	import Part from '../Part.svelte';
	import Charge from './Charge.svelte';
	import { keysOf, whole } from './fields';

	const editor = getEditor();
	const items = $derived(editor.document.items);
	const extras = $derived(items.extras ?? []);
	function addExtra(words: string) {
		const key = keyFrom(words, keysOf(extras), 'extra');
		items.extras = [...extras, { key, name: words, price: { amount: '0', per: 'once' } }];
		editor.open[`/items/extras#${key}`] = true;
	}
	function fits(extra: Schema['PriceExtra'], key: string, on: boolean) {
		const all = extra.fits?.length ? extra.fits : keysOf(items.list);
		const next = on ? [...all, key] : all.filter((k) => k !== key);
		if (next.length === items.list.length) delete extra.fits;
		else extra.fits = next;
	}
</script>

<h2>Extras</h2>
<p class="hint">Lines of their own below an item they fit, such as a mount.</p>
<ol>
	{#each extras as extra, i (extra.key)}
		<Part
			title={extra.name || 'Without a name'}
			note="{extra.price.currency ?? items.currency} {extra.price.amount} {byThe(extra.price.unit)}{per[
				extra.price.per
			]}"
			place="/items/extras/{i}"
			part={extra.key}
			at={i}
			of={extras.length}
			onmove={(step) => move(extras, i, step)}
			onremove={() => editor.remove(extra.name, () => items.extras?.splice(i, 1))}
		>
			<Field label="Name"><input class="input" bind:value={extra.name} maxlength="200" /></Field>
			<Charge bind:of={extra.price} />
			<Field label="At most"
				><input
					class="input narrow"
					type="number"
					min="1"
					value={extra.max ?? ''}
					oninput={(e) => (extra.max = whole(e))}
				/></Field
			>
			<fieldset>
				<legend class="caption">Fits</legend>
				{#each items.list as item (item.key)}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={!extra.fits?.length || extra.fits.includes(item.key)}
							onchange={(e) => fits(extra, item.key, e.currentTarget.checked)}
						/>
						{item.name}</label
					>
				{/each}
			</fieldset>
		</Part>
	{/each}
</ol>
<AddLine
	label="Another extra"
	placeholder="What goes with it?"
	button="Add extra"
	field="new-extra"
	onadd={addExtra}
/>
