<!-- A price in one line: what falls due once, each month and each year. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { isNothing, money } from '$lib/words';
	let { price }: { price: Schema['PricePrice'] } = $props();
	const parts = $derived(
		[
			isNothing(price.once) ? '' : money(price.once),
			isNothing(price.monthly) ? '' : `${money(price.monthly)} a month`,
			isNothing(price.yearly) ? '' : `${money(price.yearly)} a year`
		].filter(Boolean)
	);
</script>

<span class="mono">{parts.length ? parts.join(' + ') : 'No cost'}</span>
