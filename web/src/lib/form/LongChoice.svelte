<!-- One of a long list that the page has: short lists stay a list to open. -->
<script lang="ts">
	import Picker, { type Choice } from '$lib/ui/Picker.svelte';
	type Props = {
		choices: Choice[];
		/** Key of what is chosen. */
		value: string;
		label: string;
		control: { id: string } & Record<string, unknown>;
		onkey: (key: string | null) => void;
	};
	let { choices, value, label, control, onkey }: Props = $props();
	const long = 12;

	const plain = (text: string) => text.toLowerCase().normalize('NFD').replace(/\p{M}/gu, '');
	function look(words: string) {
		const wanted = plain(words).split(/\s+/);
		return choices.filter((c) => wanted.every((w) => plain(`${c.label} ${c.note ?? ''}`).includes(w)));
	}
</script>

{#if choices.length > long}
	<Picker
		{look}
		name={choices.find((c) => c.key === value)?.label ?? value}
		list={label}
		placeholder="Begin to type, or look at the list"
		{control}
		onpick={(choice) => onkey(choice?.key ?? null)}
	/>
{:else}
	<select class="select" {value} onchange={(e) => onkey(e.currentTarget.value || null)} {...control}>
		<option value="">—</option>
		{#each choices as choice (choice.key)}<option value={choice.key}
				>{choice.label}{choice.note ? `, ${choice.note}` : ''}</option
			>{/each}
	</select>
{/if}
