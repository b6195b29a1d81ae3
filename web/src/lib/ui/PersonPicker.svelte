<!-- Finds a person by name as one types. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Picker from './Picker.svelte';

	type Person = Schema['PersonView'];
	type Props = {
		/** Of who is chosen now. */
		name?: string;
		/** Among whom to look; anybody of the company where it is not given. */
		among?: (words: string) => Promise<Person[]>;
		control: { id: string } & Record<string, unknown>;
		onpick: (person: Person | undefined) => void;
	};
	let { name = '', among = anybody, control, onpick }: Props = $props();
	let people: Person[] = [];

	async function anybody(words: string) {
		return (await unwrap(api.GET('/api/people', { params: { query: { words } } }))).entries;
	}
	async function look(words: string) {
		if (!words.trim()) return [];
		people = await among(words);
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
