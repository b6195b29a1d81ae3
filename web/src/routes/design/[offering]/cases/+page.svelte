<!-- The cases of a draft: rehearsals that guard every later change. -->
<script lang="ts">
	import { getEditor } from '$lib/design/editor.svelte';
	import Cases from '$lib/design/rehearse/Cases.svelte';
	const editor = getEditor();
</script>

<svelte:head><title>{editor.document.purpose.name} · Cases · Heptad</title></svelte:head>
<p class="eyebrow">{editor.document.purpose.name}</p>
<h1>Cases <span class="soft note">what must hold, whatever is changed</span></h1>
<Cases />

<style>
	.note {
		font:
			400 1rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
</style>
