<!-- A small "why" beside an automatic fact; it opens the reason. -->
<script lang="ts">
	let props: { reason: string; of: string } = $props();
	let pressed = $state(false);
</script>

{#snippet closed()}
	<button type="button" class="why" aria-expanded="false" onclick={() => (pressed = true)}
		><span class="sr-only">{props.of}: </span>why</button
	>
{/snippet}

{#if pressed}
	{#await import('./WhyFrame.svelte')}{@render closed()}{:then { default: Frame }}<Frame {...props} />{/await}
{:else}{@render closed()}{/if}

<style>
	:global(.why) {
		font-size: 0.8125rem;
		color: var(--sound);
		text-decoration: underline dotted;
		text-underline-offset: 3px;
	}
</style>
