<!-- A date: typed as people write one, or chosen in a month that opens. What is no date is said at once. -->
<script lang="ts">
	import type { Component, ComponentProps } from 'svelte';
	import { CalendarDays } from '@lucide/svelte';
	import { readDate, shortDate } from '$lib/words';
	import type DateGrid from './DateGrid.svelte';

	type Props = {
		/** YYYY-MM-DD, or empty. */
		value: string;
		min?: string;
		max?: string;
		/** For those who hear it; that of the control when left out. */
		label: string;
		control?: Record<string, unknown>;
		/** The day, or nothing for what is none. */
		onday: (day: string | null) => void;
	};
	let { value, min, max, label, control = {}, onday }: Props = $props();
	const id = $props.id();

	let typed = $state<string>();
	const text = $derived(typed ?? (value ? shortDate(value) : ''));
	const wrong = $derived(typed !== undefined && typed.trim() !== '' && !readDate(typed));
	let left = $state(false);

	function type(text: string) {
		typed = text;
		left = false;
		const day = readDate(text) ?? null;
		if (day !== (value || null)) onday(day);
	}
	function leave() {
		left = true;
		if (!wrong) typed = undefined;
	}
	let Grid = $state<Component<ComponentProps<typeof DateGrid>>>();
	const open = async () => (Grid = (await import('./DateGrid.svelte')).default);
</script>

<span class="dated">
	<span class="date">
		<input
			class="input"
			inputmode="text"
			autocomplete="off"
			placeholder="like 20 Mar 2027"
			aria-label={control.id ? undefined : label}
			value={text}
			oninput={(e) => type(e.currentTarget.value)}
			onchange={leave}
			onblur={leave}
			{...control}
			aria-invalid={wrong && left ? true : (control['aria-invalid'] as boolean | undefined)}
			aria-describedby={[control['aria-describedby'], wrong && left ? `${id}-wrong` : '']
				.filter(Boolean)
				.join(' ') || undefined}
		/>
		{#if Grid}
			<Grid
				{value}
				{min}
				{max}
				{label}
				onday={(day) => {
					typed = undefined;
					onday(day);
				}}
			/>
		{:else}
			<button type="button" class="btn plain date-open" aria-label="{label}: choose a day" onclick={open}
				><CalendarDays size={18} aria-hidden="true" /></button
			>
		{/if}
	</span>
	<span class="small problem" id="{id}-wrong" role="status"
		>{#if wrong && left}That is no date: write it like 20 Mar 2027.{/if}</span
	>
</span>

<style>
	.dated {
		display: block;
		min-width: 0;
	}
	.date {
		display: flex;
		gap: 0.35rem;
		align-items: stretch;
		max-width: 13rem;
		position: relative;
	}
	.input {
		min-width: 0;
		flex: 1;
	}
</style>
