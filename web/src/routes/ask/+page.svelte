<!-- Ask: one line to say what is needed; what it finds, or else the front page. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, goto } from '$app/navigation';
	import { api } from '$lib/api/client';
	import Found from './Found.svelte';
	import Front from '$lib/ask/Front.svelte';

	let { data } = $props();
	let words = $state(untrack(() => data.words));
	$effect(() => {
		// Another address changes what stands in the line, but never under somebody's fingers.
		if (document.activeElement !== field) words = data.words;
	});
	let field = $state<HTMLInputElement>();
	let pause: ReturnType<typeof setTimeout> | undefined;
	let settle: ReturnType<typeof setTimeout> | undefined;

	const look = () =>
		goto(words.trim() ? `/ask?words=${encodeURIComponent(words.trim())}` : '/ask', {
			keepFocus: true,
			replaceState: true,
			noScroll: true
		});
	beforeNavigate(() => clearTimeout(pause)); // a click is meant, whatever was typed before
	/** A reference opens its request at once: one waits until it is typed to the end. */
	function typed() {
		clearTimeout(pause);
		pause = setTimeout(look, 150);
	}
	/** Remembers what was looked for, and what was opened of it. */
	function remember(opened?: string) {
		clearTimeout(settle);
		if (data.words) void api.POST('/api/searches', { body: { words: data.words, opened } });
	}
	$effect(() => {
		// What stands a while without finding an offering was meant.
		clearTimeout(settle);
		if (data.found && !data.found.results.some((r) => r.kind === 'offering'))
			settle = setTimeout(() => remember(), 2000);
	});

	const links = () => [...document.querySelectorAll<HTMLAnchorElement>('[data-result]')];
	function enter(e: KeyboardEvent) {
		const first = links()[0];
		if (e.key === 'ArrowDown' && first) {
			e.preventDefault();
			first.focus();
		}
	}
	/** Looks for the words; what they have already found is opened. */
	function send() {
		if (data.words && data.words === words.trim()) links()[0]?.click();
		else void look();
	}
	function walk(e: KeyboardEvent) {
		const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
		const all = links();
		const here = all.indexOf(e.target as HTMLAnchorElement);
		if (!step || here < 0) return;
		e.preventDefault();
		(all[here + step] ?? (step < 0 ? field : undefined))?.focus();
	}
</script>

<svelte:head><title>Ask · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<form
		class="wish"
		role="search"
		onsubmit={(e) => {
			e.preventDefault();
			send();
		}}
	>
		<label for="wish"><h1>What do you need?</h1></label>
		<!-- svelte-ignore a11y_autofocus -->
		<input
			id="wish"
			class="input"
			bind:this={field}
			bind:value={words}
			oninput={typed}
			onkeydown={enter}
			autocomplete="off"
			autofocus
			maxlength="200"
			placeholder="Say it in your own words: a tablet for the bridge, my badge is lost"
		/>
	</form>
	<!-- svelte-ignore a11y_no_static_element_interactions -->
	<div class="below" onkeydown={walk}>
		{#if data.found}
			<Found words={data.words} typed={words.trim() || data.words} found={data.found} onopen={remember} />
		{:else if data.front}
			<Front {...data.front} />
		{/if}
	</div>
</main>

<style>
	main {
		display: grid;
		align-content: start;
		gap: 1.5rem;
		background: none;
	}
	h1 {
		margin-bottom: 0.5rem;
	}
	.wish .input {
		font-size: 1.25rem;
		padding: 0.7rem 0.9rem;
		width: 100%;
		box-shadow:
			inset 0 -3px 0 var(--sound),
			inset 0 0 0 1px var(--line-strong);
	}
	.below {
		display: grid;
		gap: 2rem;
	}
</style>
