<script lang="ts">
	import { leadOn } from '$lib/ui/leads.svelte';

	let { data } = $props();

	leadOn(() => data.first);
</script>

<svelte:head><title>Follow · Heptad</title></svelte:head>
{#if !data.first}
	<h1>Follow</h1>
	<p>What you ask for shows here, and with whom it lies. <a href="/ask">Ask for something.</a></p>
{/if}
