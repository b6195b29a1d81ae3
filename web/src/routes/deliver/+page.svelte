<script lang="ts">
	import { leadOn } from '$lib/ui/leads.svelte';

	let { data } = $props();

	leadOn(() => data.first);
</script>

<svelte:head><title>Deliver · Heptad</title></svelte:head>
{#if !data.first}
	<h1>No task waits for your teams</h1>
	<p>Tasks come here by themselves, as soon as what comes before them is done.</p>
{/if}
