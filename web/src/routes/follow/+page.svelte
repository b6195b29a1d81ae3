<script lang="ts">
	import LeadOn from '$lib/ui/LeadOn.svelte';

	let { data } = $props();
</script>

<LeadOn desk="Follow" first={data.first}>
	<h1>Follow</h1>
	<p>What you ask for shows here, and with whom it lies. <a href="/ask">Ask for something.</a></p>
</LeadOn>
