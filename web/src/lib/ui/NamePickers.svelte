<!-- Several of what is found by words, each to be taken out again. -->
<script lang="ts">
	import type { Names } from '$lib/names.svelte';
	import NamePicker from './NamePicker.svelte';
	type Props = {
		from: Names;
		/** Keys of what is chosen. */
		value: string[];
		without?: string[];
		label: string;
		control: { id: string } & Record<string, unknown>;
		onlist: (keys: string[]) => void;
	};
	let { from, value, without = [], label, control, onlist }: Props = $props();
	$effect(() => void from.know(value));
	/** Made anew with each that is taken, so that its field is empty for the next. */
	let taken = $state(0);
</script>

<div class="names" role="group" aria-label={label}>
	{#each value as key (key)}
		<span class="tag"
			>{from.of(key)}
			<button
				type="button"
				aria-label="Take out {from.of(key)}"
				onclick={() => onlist(value.filter((k) => k !== key))}>×</button
			></span
		>
	{/each}
	{#key taken}
		<NamePicker
			{from}
			value=""
			without={[...value, ...without]}
			{label}
			{control}
			onkey={(key) => {
				if (!key) return;
				taken++;
				onlist([...value, key]);
			}}
		/>
	{/key}
</div>

<style>
	.names {
		display: flex;
		flex-wrap: wrap;
		gap: 0.3rem 0.5rem;
		align-items: center;
	}
	.tag {
		display: inline-flex;
		align-items: center;
	}
</style>
