<!-- The line at the end of a list that adds another part by its name. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	type Props = {
		label: string;
		placeholder: string;
		button: string;
		field: string;
		onadd: (words: string) => void;
	};
	let { label, placeholder, button, field, onadd }: Props = $props();
	let words = $state('');

	function add(e: SubmitEvent) {
		e.preventDefault();
		if (!words.trim()) return;
		onadd(words.trim());
		words = '';
	}
</script>

<form class="addline" onsubmit={add}>
	<Field {label}
		><input class="input" bind:value={words} {placeholder} maxlength="200" data-field={field} /></Field
	>
	<button class="btn plain">{button}</button>
</form>
