<!-- One of two or three, all of them in sight. -->
<script lang="ts" generics="Key extends string">
	import { SegmentedControl } from '@skeletonlabs/skeleton-svelte';
	type Props = {
		label: string;
		value: Key;
		choices: readonly (readonly [Key, string])[];
		/** The label stands above it; else it is only heard. */
		shown?: boolean;
		onpick: (key: Key) => void;
	};
	let { label, value, choices, shown = false, onpick }: Props = $props();
</script>

<SegmentedControl {value} onValueChange={(now) => now.value && onpick(now.value as Key)} class="segments">
	<SegmentedControl.Label class={shown ? 'segments-label' : 'sr-only'}>{label}</SegmentedControl.Label>
	<SegmentedControl.Control class="segments-row">
		{#each choices as [key, words] (key)}
			<SegmentedControl.Item value={key} class="segment" data-segment={key}>
				<SegmentedControl.ItemText class="segment-text">{words}</SegmentedControl.ItemText>
				<SegmentedControl.ItemHiddenInput />
			</SegmentedControl.Item>
		{/each}
	</SegmentedControl.Control>
</SegmentedControl>

<style>
	:global(.segments) {
		gap: 0.25rem;
	}
	:global(.segments-label) {
		font-weight: 600;
		font-size: 0.875rem;
	}
	:global(.segments-row) {
		display: inline-flex;
		width: fit-content;
		padding: 0;
		gap: 0;
		border: 2px solid var(--line-strong);
		border-radius: 0;
	}
	:global(.segment) {
		flex: none;
		padding: 0.2rem 0.75rem;
		border-radius: 0;
		font-size: 0.875rem;
		font-weight: 400;
		cursor: pointer;
	}
	:global(.segment[data-state='checked']) {
		background: var(--sound);
	}
	:global(.segment[data-focus-visible]) {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
	:global(.segment-text) {
		color: var(--ink);
	}
	:global(.segment-text[data-state='checked']) {
		color: var(--on-sound);
		font-weight: 600;
	}
</style>
