<!-- An instant on the reader's wall clock: a date and a time of day. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import ClockField from './ClockField.svelte';
	import DateField from './DateField.svelte';
	type Props = {
		/** YYYY-MM-DDTHH:MM, or empty. */
		value: string;
		max?: string;
		label: string;
		control?: Record<string, unknown>;
		/** The same; empty while one of the two is missing. */
		onmoment: (value: string) => void;
	};
	let { value, max, label, control = {}, onmoment }: Props = $props();
	let day = $state(untrack(() => value.slice(0, 10)));
	let time = $state(untrack(() => value.slice(11, 16)));
	let given = $state(untrack(() => value));
	$effect(() => {
		if (value === given) return;
		given = value;
		[day, time] = [value.slice(0, 10), value.slice(11, 16)];
	});
	function change() {
		const next = day && time ? `${day}T${time}` : '';
		if (next === given) return;
		given = next;
		onmoment(next);
	}
</script>

<span class="moment">
	<DateField
		value={day}
		max={max?.slice(0, 10)}
		{label}
		{control}
		onday={(d) => {
			day = d ?? '';
			change();
		}}
	/>
	<ClockField
		value={time}
		control={{
			'aria-label': `${label}: time of day`,
			'data-field': control['data-field'] ? `${String(control['data-field'])}-time` : undefined
		}}
		ontime={(t) => {
			time = t;
			change();
		}}
	/>
</span>

<style>
	.moment {
		display: flex;
		flex-wrap: wrap;
		gap: 0.35rem;
		align-items: start;
	}
</style>
