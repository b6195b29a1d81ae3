<!-- One of what is found by words, such as a cost centre. -->
<script lang="ts">
	import type { Names } from '$lib/names.svelte';
	import Picker from './Picker.svelte';
	type Props = {
		from: Names;
		/** Key of what is chosen; empty for nothing. */
		value: string;
		/** Keys that are not offered. */
		without?: string[];
		label: string;
		control: { id: string } & Record<string, unknown>;
		onkey: (key: string | null) => void;
	};
	let { from, value, without = [], label, control, onkey }: Props = $props();
	$effect(() => void from.know([value]));
	const look = async (words: string) => (await from.look(words)).filter((c) => !without.includes(c.key));
</script>

<Picker
	{look}
	name={from.of(value)}
	list={label}
	placeholder="Begin to type"
	{control}
	onpick={(choice) => onkey(choice?.key ?? null)}
/>
