<!-- What changes the whole price: tax, tolerance, discounts, surcharges, term, and who pays. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Discounts from './Discounts.svelte';
	import { text } from './fields';
	import Payers from './Payers.svelte';
	import Surcharges from './Surcharges.svelte';
	const editor = getEditor();
	const items = $derived(editor.document.items);
	const ofKind = (kind: string) => editor.document.questions.filter((q) => q.kind === kind);
</script>

<details
	open={Boolean(
		items.tax ||
		items.tolerance ||
		items.discounts?.length ||
		items.surcharges?.length ||
		items.term ||
		items.company ||
		items.costCentres ||
		items.from
	)}
>
	<summary><h2>The whole price</h2></summary>
	<div class="whole">
		<div class="inline">
			<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={Boolean(items.tax)}
					onchange={(e) => (items.tax = e.currentTarget.checked ? { ...editor.materials.tax } : undefined)}
				/> Tax</label
			>
			{#if items.tax}
				<input class="input narrow" bind:value={items.tax.name} aria-label="Name of the tax" />
				<input class="input narrow" bind:value={items.tax.percent} aria-label="Tax in percent" /> %
			{/if}
		</div>
		<Found place="/items/tax" />
		<Field
			label="The real cost may be higher by so many per cent"
			hint="More than that is told to who asked and who decided. Tasks ask for it as a sum of money that it really cost."
			><input
				class="input narrow"
				inputmode="decimal"
				placeholder="0"
				value={items.tolerance ?? ''}
				oninput={(e) => (items.tolerance = text(e))}
				maxlength="10"
				data-field="tolerance"
			/></Field
		>
		<Found place="/items/tolerance" />
		<Discounts />
		<Surcharges />
		<div class="fields-2">
			<Field label="Monthly prices run from">
				<select class="select" value={items.from ?? ''} onchange={(e) => (items.from = text(e))}>
					<option value="">the day they are delivered</option>
					{#each ofKind('date') as q (q.key)}<option value={q.key}>{q.label}</option>{/each}
				</select>
			</Field>
			<Field label="Kept for so many months">
				<select
					class="select"
					value={items.term?.question ?? (items.term ? 'fixed' : '')}
					onchange={(e) => {
						const v = e.currentTarget.value;
						items.term = v === '' ? undefined : v === 'fixed' ? { months: 12 } : { question: v };
					}}
				>
					<option value="">no end</option>
					<option value="fixed">always the same</option>
					{#each ofKind('number') as q (q.key)}<option value={q.key}>as answered: {q.label}</option>{/each}
				</select>
			</Field>
			{#if items.term && !items.term.question}<Field label="Months"
					><input class="input" type="number" min="1" max="600" bind:value={items.term.months} /></Field
				>{/if}
		</div>
		<Payers />
	</div>
</details>

<style>
	.whole {
		display: grid;
		gap: 0.8rem;
	}
	summary h2 {
		display: inline;
	}
</style>
