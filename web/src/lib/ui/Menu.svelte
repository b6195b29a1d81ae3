<!-- A button with deeds that open under it; the list is loaded when it is first pressed. -->
<script lang="ts">
	import type { Deed } from './MenuFrame.svelte';
	type Props = { label: string; deeds: Deed[]; name: string };
	let props: Props = $props();
	let pressed = $state(false);
</script>

{#snippet closed()}
	<button
		class="btn quiet"
		aria-haspopup="menu"
		aria-expanded="false"
		onclick={() => (pressed = true)}
		data-menu={props.name}>{props.label}</button
	>
{/snippet}

{#if pressed}
	{#await import('./MenuFrame.svelte')}{@render closed()}{:then { default: Frame }}<Frame
			{...props}
		/>{/await}
{:else}{@render closed()}{/if}

<style>
	:global([data-menu])::after {
		content: '▾' / '';
		display: inline-block;
		margin-left: -0.2rem;
	}
</style>
