<script lang="ts">
	import { getEditor } from '$lib/design/editor.svelte';

	let { data } = $props();
	const editor = getEditor();
</script>

<svelte:head><title>{editor.document.purpose.name} · Design · Heptad</title></svelte:head>
<p class="eyebrow">{editor.document.purpose.name}</p>
<h1>{data.side.name} <span class="soft note">{data.side.note}</span></h1>
<div class="form">
	<data.Form />
</div>

<style>
	.note {
		font:
			400 1rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
	.form {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 0.9rem;
		margin-top: 1rem;
		max-width: 46rem;
	}
</style>
