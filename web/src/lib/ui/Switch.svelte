<!-- Something that is on or off, and takes effect at once. -->
<script lang="ts">
	import { Switch } from '@skeletonlabs/skeleton-svelte';
	type Props = {
		/** It is only heard. */
		label: string;
		on: boolean;
		field?: string;
		onturn: (on: boolean) => void;
	};
	let { label, on, field, onturn }: Props = $props();
</script>

<Switch checked={on} onCheckedChange={(now) => onturn(now.checked)} class="switch">
	<Switch.Control class="switch-track"><Switch.Thumb class="switch-thumb" /></Switch.Control>
	<Switch.Label class="sr-only">{label}</Switch.Label>
	<Switch.HiddenInput data-field={field} />
</Switch>

<style>
	:global(.switch) {
		display: inline-flex;
		align-items: center;
		gap: 0.5rem;
		cursor: pointer;
	}
	:global(.switch[data-focus-visible]) {
		outline: 2px solid var(--buoy);
		outline-offset: 3px;
	}
	:global(.switch-track) {
		width: 2.3rem;
		height: 1.15rem;
		padding: 0;
		border: 2px solid var(--line-strong);
		border-radius: 0;
		background: transparent;
	}
	:global(.switch-track[data-state='checked']) {
		border-color: var(--sound);
		background: var(--sound-wash);
	}
	:global(.switch-thumb) {
		border-radius: 0;
		background: var(--line-strong);
	}
	:global(.switch-thumb[data-state='checked']) {
		background: var(--sound);
		transform: translateX(1.15rem);
	}
</style>
