<!-- An instant on the reader's wall clock: a date and a time of day. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { readTime } from '$lib/words';
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
	/** As it is typed, until it is left. */
	let text = $state<string>();
	const wrong = $derived(Boolean(text?.trim()) && !time);
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
	<input
		class="input"
		inputmode="numeric"
		autocomplete="off"
		placeholder="like 08:30"
		maxlength="5"
		value={text ?? time}
		aria-label="{label}: time of day"
		aria-invalid={wrong}
		data-field={control['data-field'] ? `${String(control['data-field'])}-time` : undefined}
		oninput={(e) => {
			text = e.currentTarget.value;
			time = readTime(text) ?? '';
			change();
		}}
		onblur={() => time && (text = undefined)}
	/>
</span>

<style>
	.moment {
		display: flex;
		flex-wrap: wrap;
		gap: 0.35rem;
		align-items: start;
	}
	.input {
		width: 6.5rem;
	}
</style>
