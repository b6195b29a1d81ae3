<!-- A list of short words, written with commas between. -->
<script lang="ts">
	import { split } from '$lib/words';
	import Field from './Field.svelte';
	type Props = {
		label: string;
		hint?: string;
		placeholder?: string;
		field?: string;
		value: string[] | undefined;
		/** The words that are left; nothing when there is none. */
		onlist: (list: string[] | undefined) => void;
	};
	let { label, hint, placeholder, field, value, onlist }: Props = $props();

	function read(text: string) {
		const list = split(text);
		onlist(list.length ? list : undefined);
	}
</script>

<Field {label} {hint}>
	<input
		class="input"
		value={(value ?? []).join(', ')}
		{placeholder}
		onchange={(e) => read(e.currentTarget.value)}
		data-field={field}
	/>
</Field>
