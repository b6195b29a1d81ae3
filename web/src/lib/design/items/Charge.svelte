<!-- What something costs: once, a month or a year. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import { per } from '$lib/words';
	import { text } from './fields';
	let { of = $bindable() }: { of: Schema['PriceCharge'] } = $props();
</script>

<div class="fields-4">
	<Field label="Price"
		><input
			class="input mono"
			inputmode="decimal"
			bind:value={of.amount}
			maxlength="20"
			data-field="amount"
		/></Field
	>
	<Field label="Due">
		<select class="select" bind:value={of.per} data-field="per">
			{#each Object.entries(per) as [key, words] (key)}<option value={key}>{words}</option>{/each}
		</select>
	</Field>
	<Field label="By the"
		><input
			class="input"
			value={of.unit ?? ''}
			oninput={(e) => (of.unit = text(e))}
			maxlength="30"
			placeholder="piece"
			data-field="unit"
		/></Field
	>
	<Field label="Currency, if another"
		><input
			class="input mono"
			value={of.currency ?? ''}
			oninput={(e) => (of.currency = text(e))}
			maxlength="3"
		/></Field
	>
	{#if of.per === 'month'}<label class="tick"
			><input
				type="checkbox"
				class="checkbox"
				checked={of.byDays ?? false}
				onchange={(e) => (of.byDays = e.currentTarget.checked || undefined)}
			/> first month by days</label
		>{/if}
</div>
