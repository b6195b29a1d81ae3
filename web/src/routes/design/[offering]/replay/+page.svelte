<!-- Past requests put through a draft. -->
<script lang="ts">
	import { getEditor } from '$lib/design/editor.svelte';
	import Replay from '$lib/design/rehearse/Replay.svelte';
	const editor = getEditor();
</script>

<svelte:head><title>{editor.document.purpose.name} · Replay · Heptad</title></svelte:head>
<p class="eyebrow">{editor.document.purpose.name}</p>
<h1>Replay <span class="soft note">what was sent before, put through this draft</span></h1>
<Replay />

<style>
	.note {
		font:
			400 1rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
</style>
