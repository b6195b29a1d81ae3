<!-- One of a few, in a small list that opens. -->
<script lang="ts" generics="Key extends string">
	type Props = {
		label: string;
		/** Empty for the first. */
		value: Key | '' | undefined;
		choices: readonly (readonly [Key | '', string])[];
		field?: string;
		onpick: (key: Key | '') => void;
	};
	let { label, value, choices, field, onpick }: Props = $props();
</script>

<select
	class="select"
	aria-label={label}
	value={value ?? ''}
	onchange={(e) => onpick(e.currentTarget.value as Key | '')}
	data-field={field}
>
	{#each choices as [key, words] (key)}<option value={key}>{words}</option>{/each}
</select>
