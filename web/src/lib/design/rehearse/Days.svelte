<!-- The first and the last day of a time. -->
<script lang="ts">
	import DateField from '$lib/ui/DateField.svelte';
	type Props = { from: string; until: string; first: string; last: string; word: string };
	let { from = $bindable(), until = $bindable(), first, last, word }: Props = $props();
</script>

<span
	>{word}
	<DateField
		value={from}
		label={first}
		control={{ 'data-field': 'from' }}
		onday={(d) => (from = d ?? from)}
	/></span
>
<span
	>until <DateField
		value={until}
		label={last}
		control={{ 'data-field': 'until' }}
		onday={(d) => (until = d ?? until)}
	/></span
>

<style>
	span {
		display: inline-flex;
		align-items: center;
		gap: 0.4rem;
	}
</style>
