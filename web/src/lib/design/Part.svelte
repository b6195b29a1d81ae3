<!-- One part of a side in a list: its title opens it; it moves and goes. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import { tip } from '$lib/ui/tip.svelte';
	import Found from './Found.svelte';
	import { getDrop, getEditor } from './editor.svelte';
	type Props = {
		title: string;
		note: string;
		place: string;
		/** Key of the part, unlike that of others in its list. */
		part: string;
		/** Number in its list, and how many there are. */
		at: number;
		of: number;
		/** What comes of dropping it on another; it moves there when left out. */
		dropping?: string;
		children: Snippet;
		onmove: (step: number) => void;
		onremove: () => void;
		onduplicate?: () => void;
	};
	let { title, note, place, part, at, of, dropping, children, onmove, onremove, onduplicate }: Props =
		$props();
	const editor = getEditor();
	const list = $derived(place.replace(/\/\d+$/, ''));
	const id = $derived(`${list}#${part}`);
	const open = $derived(editor.open[id] ?? false);
	let over = $state(false);

	const type = 'application/x-heptad-part';
	function drag(e: DragEvent) {
		e.dataTransfer?.setData(type, `${list} ${at}`);
	}
	function drop(e: DragEvent) {
		over = false;
		const [from, number] = (e.dataTransfer?.getData(type) ?? '').split(' ');
		if (from !== list || number === undefined) return;
		e.preventDefault();
		editor.apart();
		dropped?.(Number(number), at);
	}
	const dropped = getDrop();
	function shift(step: number) {
		editor.apart();
		onmove(step);
	}
	function double() {
		editor.apart();
		onduplicate?.();
	}
	function keys(e: KeyboardEvent) {
		const step = { ArrowUp: -1, ArrowDown: 1 }[e.key];
		if (!step || !e.altKey || at + step < 0 || at + step >= of) return;
		e.preventDefault();
		shift(step);
	}
</script>

<li
	data-piece={place}
	class:over
	class:onto={over && Boolean(dropping)}
	ondragover={(e) => {
		if (e.dataTransfer?.types.includes(type)) {
			e.preventDefault();
			over = true;
		}
	}}
	ondragleave={() => (over = false)}
	ondrop={drop}
>
	<div class="head" draggable="true" ondragstart={drag} role="presentation">
		<span class="grip" aria-hidden="true" {@attach tip(dropping ?? 'Drag to move')}>⠿</span>
		<button
			class="title"
			aria-expanded={open}
			aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
			onkeydown={keys}
			onclick={() => (editor.open[id] = !open)}
		>
			<span aria-hidden="true" class="sign">{open ? '–' : '+'}</span>
			<strong>{title}</strong> <span class="soft small">{note}</span>
		</button>
		<button class="btn quiet" disabled={at === 0} onclick={() => shift(-1)}
			>Up<span class="sr-only">: {title}</span></button
		>
		<button class="btn quiet" disabled={at === of - 1} onclick={() => shift(1)}
			>Down<span class="sr-only">: {title}</span></button
		>
		{#if onduplicate}<button class="btn quiet" onclick={double}
				>Double<span class="sr-only">: {title}</span></button
			>{/if}
		<button class="btn quiet" onclick={onremove}>Remove<span class="sr-only">: {title}</span></button>
	</div>
	<Found {place} />
	{#if open}<div class="body">{@render children()}</div>{/if}
</li>

<style>
	li {
		border-bottom: 1px solid var(--line-strong);
		padding-block: 0.4rem;
	}
	.over {
		box-shadow: inset 0 3px 0 var(--sound);
	}
	.onto {
		box-shadow: inset 0 -3px 0 var(--sound);
		background: var(--sound-wash);
	}
	.grip {
		cursor: grab;
		color: var(--ink-soft);
		padding-right: 0.4rem;
	}
	.head {
		display: flex;
		align-items: center;
		gap: 0.1rem;
	}
	.head .btn {
		font-size: 0.8125rem;
		font-weight: 400;
		padding: 0.25rem 0.35rem;
	}
	/* quiet until the part is pointed at or entered */
	.head .btn:not(:disabled) {
		color: var(--ink-soft);
		text-decoration: none;
	}
	li:hover > .head .btn:not(:disabled),
	li:focus-within > .head .btn:not(:disabled) {
		color: var(--sound);
		text-decoration: underline;
	}
	.head .btn:disabled {
		background: none;
		text-decoration: none;
	}
	.title {
		flex: 1;
		text-align: left;
		padding-block: 0.3rem;
	}
	@media (max-width: 600px) {
		.head {
			flex-wrap: wrap;
			justify-content: end;
		}
		.title {
			flex-basis: calc(100% - 2rem);
		}
	}
	.sign {
		display: inline-block;
		width: 1.1rem;
		font-family: var(--mono);
		color: var(--sound);
	}
	.body {
		display: grid;
		gap: 0.8rem;
		padding: 0.5rem 0 0.9rem 1.1rem;
	}
</style>
