<!-- One of many, found by words as one types: arrows choose, Enter takes. Keys and the list are Skeleton's. -->
<script lang="ts" module>
	export type Choice = { key: string; label: string; note?: string };
</script>

<script lang="ts">
	import { untrack } from 'svelte';
	import { Combobox, useListCollection } from '@skeletonlabs/skeleton-svelte';

	type Props = {
		/** Finds what words mean, the best first. */
		look: (words: string) => Choice[] | Promise<Choice[]>;
		/** Of what is chosen now; empty for nothing. */
		name: string;
		control: { id: string } & Record<string, unknown>;
		/** What the list holds, for those who hear it. */
		list: string;
		placeholder?: string;
		onpick: (choice: Choice | undefined) => void;
	};
	let { look, name, control, list, placeholder, onpick }: Props = $props();

	const shown = 50;
	let words = $state(untrack(() => name));
	let found = $state.raw<Choice[]>([]);
	let open = $state(false);
	let asking = 0;
	let answered = $state(0);
	let typing = false;
	/** Enter came before the answer: the first of it is meant. */
	let first = false;
	$effect(() => {
		const now = name;
		if (!typing) words = now; // never under somebody's fingers
	});
	const collection = $derived(
		useListCollection({
			items: found,
			itemToValue: (c: Choice) => c.key,
			itemToString: (c: Choice) => c.label
		})
	);

	async function search(text: string) {
		first = false;
		found = []; // those of other words are not meant
		const mine = ++asking;
		const choices = (await look(text)).slice(0, shown);
		if (mine !== asking) return;
		answered = mine;
		found = choices;
		if (first && choices[0]) take(choices[0]);
	}
	/** What is typed is heard from the field itself: the list, once closed, can take it that the field was left. */
	function typed(text: string) {
		typing = true;
		words = text;
		open = true;
		if (!text.trim()) onpick(undefined);
		void search(text);
	}
	function take(choice: Choice) {
		typing = false;
		open = false;
		words = choice.label;
		onpick(choice);
	}
	/** Enter takes what is marked, or the first. */
	function enter(e: KeyboardEvent) {
		if (e.key !== 'Enter' || !typing) return;
		if ((e.currentTarget as HTMLElement).getAttribute('aria-activedescendant')) return; // Skeleton takes it
		e.preventDefault();
		if (answered !== asking) first = true;
		else if (found[0]) take(found[0]);
	}
	/** Enter never sends the form around it. */
	function stay(e: KeyboardEvent) {
		if (e.key === 'Enter') e.preventDefault();
	}
	function left() {
		typing = false;
		words = name; // only what was taken counts
	}
</script>

<Combobox
	class="picker"
	{collection}
	value={[]}
	inputValue={words}
	open={open && found.length > 0}
	selectionBehavior="preserve"
	inputBehavior="none"
	allowCustomValue
	openOnClick
	ids={{ input: control.id }}
	onOpenChange={(now) => {
		open = now.open;
		if (open && !typing) void search('');
	}}
	onValueChange={(now) => {
		const choice = found.find((c) => c.key === now.value[0]);
		if (choice) take(choice);
	}}
>
	<Combobox.Control>
		<Combobox.Input
			class="input"
			{placeholder}
			oninput={(e) => typed(e.currentTarget.value)}
			onkeydown={enter}
			onkeypress={stay}
			onblur={left}
			{...control}
		/>
	</Combobox.Control>
	<Combobox.Positioner class="picker-place">
		<Combobox.Content class="picker-list" aria-label={list}>
			{#each found as choice (choice.key)}
				<Combobox.Item item={choice} class="picker-item">
					<Combobox.ItemText>{choice.label}</Combobox.ItemText>
					{#if choice.note}<span class="soft small">{choice.note}</span>{/if}
				</Combobox.Item>
			{/each}
		</Combobox.Content>
	</Combobox.Positioner>
</Combobox>
