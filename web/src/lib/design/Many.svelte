<!-- Short words in one field with commas between; what is typed counts at once. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { split } from '$lib/words';
	type Props = {
		label?: string;
		placeholder?: string;
		field?: string;
		value: string[];
		/** The words that are left. */
		onlist: (list: string[]) => void;
		/** Rows of its field, one word or more in each line; one line when left out. */
		rows?: number;
	};
	let { label, placeholder, field, value, onlist, rows }: Props = $props();
	const mark = $derived(rows ? '\n' : ',');
	const between = $derived(rows ? '\n' : ', ');

	let text = $state('');
	/** What was stored of the text as it stands. */
	let known: string | undefined;
	// as it was typed, until something else is stored
	$effect.pre(() => {
		const stored = value.join(between);
		untrack(() => {
			if (stored !== known) text = known = stored;
		});
	});
	function typed(e: { currentTarget: { value: string } }) {
		text = e.currentTarget.value;
		onlist(split(text, mark));
		known = value.join(between);
	}
</script>

{#if rows}
	<textarea
		class="textarea"
		{rows}
		aria-label={label}
		{placeholder}
		value={text}
		oninput={typed}
		data-field={field}></textarea>
{:else}
	<input class="input" aria-label={label} {placeholder} value={text} oninput={typed} data-field={field} />
{/if}
