<!-- A list of short words, written with commas between. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	import Many from './Many.svelte';
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
</script>

<Field {label} {hint}>
	<Many {placeholder} {field} value={value ?? []} onlist={(list) => onlist(list.length ? list : undefined)} />
</Field>
