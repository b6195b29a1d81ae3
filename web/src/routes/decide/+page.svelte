<script lang="ts">
	import { leadOn } from '$lib/ui/leads.svelte';

	let { data } = $props();

	leadOn(() => data.first);
</script>

<svelte:head><title>Decide · Heptad</title></svelte:head>
{#if !data.first}
	<h1>Nothing waits for your decision</h1>
	<p>When somebody asks for something that needs your yes, it comes here by itself.</p>
{/if}
