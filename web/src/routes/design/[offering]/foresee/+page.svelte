<!-- A season simulated with a draft. -->
<script lang="ts">
	import { getEditor } from '$lib/design/editor.svelte';
	import Foresee from '$lib/design/rehearse/Foresee.svelte';
	const editor = getEditor();
</script>

<svelte:head><title>{editor.document.purpose.name} · Foresee · Heptad</title></svelte:head>
<p class="eyebrow">{editor.document.purpose.name}</p>
<h1>Foresee <span class="soft note">a season with this draft, before it comes</span></h1>
<Foresee />

<style>
	.note {
		font:
			400 1rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
</style>
