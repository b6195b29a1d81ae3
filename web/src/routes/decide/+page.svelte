<script lang="ts">
	import LeadOn from '$lib/ui/LeadOn.svelte';

	let { data } = $props();
</script>

<LeadOn desk="Decide" first={data.first}>
	<h1>Nothing waits for your decision</h1>
	<p>When somebody asks for something that needs your yes, it comes here by itself.</p>
</LeadOn>
