<!-- Where the company works. -->
<script lang="ts">
	let { data } = $props();
</script>

<svelte:head><title>Places · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<p class="eyebrow"><a href="/manage">Manage</a></p>
	<h1>Places</h1>
	<ul>
		{#each data.places.entries as place (place)}<li>{place}</li>{/each}
	</ul>
</main>
