<script lang="ts">
	import LeadOn from '$lib/ui/LeadOn.svelte';

	let { data } = $props();
</script>

<LeadOn desk="Deliver" first={data.first}>
	<h1>No task waits for your teams</h1>
	<p>Tasks come here by themselves, as soon as what comes before them is done.</p>
</LeadOn>
