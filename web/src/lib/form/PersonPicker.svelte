<!-- Finds a person by name as one types. -->
<script lang="ts">
	import Picker from '$lib/ui/Picker.svelte';
	import { getTools, type Person } from './tools';

	type Props = {
		/** Path of the question; empty for whom a request is. */
		question: string;
		/** Of who is chosen now. */
		name: string;
		control: { id: string } & Record<string, unknown>;
		onpick: (person: Person | undefined) => void;
	};
	let { question, name, control, onpick }: Props = $props();
	const tools = getTools();
	let people: Person[] = [];

	async function look(words: string) {
		if (!words.trim()) return [];
		people = await tools.lookUp(question, words);
		return people.map((p) => ({ key: p.id, label: p.name, note: `${p.title}, ${p.department}` }));
	}
</script>

<Picker
	{look}
	{name}
	list="People"
	placeholder="Begin to type a name"
	{control}
	onpick={(choice) => onpick(people.find((p) => p.id === choice?.key))}
/>
