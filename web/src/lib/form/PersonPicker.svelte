<!-- Finds a person by name as one types: arrows choose, Enter takes. -->
<script lang="ts">
	import { untrack } from 'svelte';
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

	let words = $state(untrack(() => name));
	let found = $state.raw<Person[]>([]);
	let open = $state(false);
	let at = $state(-1);
	let asking = 0;
	let answered = 0;
	let typing = false;
	/** Enter came before the people: the first of them is meant. */
	let first = false;
	$effect(() => {
		if (name !== '' || !typing) words = name;
	});
	const list = $derived(`${control.id}-list`);

	async function look(text: string) {
		typing = true;
		words = text;
		open = true;
		at = -1;
		first = false;
		found = []; // those of other words are not meant
		const mine = ++asking;
		if (!text.trim()) {
			onpick(undefined);
			answered = mine;
			return;
		}
		const people = await tools.lookUp(question, text);
		if (mine !== asking) return;
		answered = mine;
		found = people;
		if (first && people[0]) take(people[0]);
	}
	function take(person: Person) {
		typing = false;
		open = false;
		words = person.name;
		onpick(person);
	}
	function keys(e: KeyboardEvent) {
		const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
		if (step && found.length) {
			e.preventDefault();
			open = true;
			at = (at + step + found.length) % found.length;
		} else if (e.key === 'Enter' && open) {
			e.preventDefault();
			const person = found[Math.max(at, 0)];
			if (person) take(person);
			else first = answered !== asking;
		} else if (e.key === 'Escape') open = false;
	}
	function left() {
		open = false;
		typing = false;
		if (words !== name) words = name; // only who was taken counts
	}
</script>

<div class="picker">
	<input
		class="input"
		role="combobox"
		aria-autocomplete="list"
		aria-expanded={open && found.length > 0}
		aria-controls={list}
		aria-activedescendant={at >= 0 ? `${list}-${at}` : undefined}
		autocomplete="off"
		placeholder="Begin to type a name"
		value={words}
		oninput={(e) => void look(e.currentTarget.value)}
		onkeydown={keys}
		onblur={left}
		{...control}
	/>
	<ul id={list} role="listbox" aria-label="People" hidden={!open || found.length === 0}>
		{#each found as person, i (person.id)}
			<li
				id="{list}-{i}"
				role="option"
				aria-selected={i === at}
				onmousedown={(e) => {
					e.preventDefault();
					take(person);
				}}
			>
				<strong>{person.name}</strong> <span class="soft small">{person.title}, {person.department}</span>
			</li>
		{/each}
	</ul>
</div>

<style>
	.picker {
		position: relative;
	}
	ul {
		position: absolute;
		z-index: 5;
		left: 0;
		right: 0;
		background: var(--panel);
		box-shadow: 0 4px 14px rgb(19 38 43 / 0.25);
		max-height: 15rem;
		overflow-y: auto;
	}
	li {
		padding: 0.35rem 0.6rem;
		cursor: pointer;
	}
	li[aria-selected='true'],
	li:hover {
		background: var(--sound-wash);
	}
</style>
