<!-- A desk as an open ledger: index, sheet, margin. Arrow keys walk the index. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import { afterNavigate } from '$app/navigation';

	type Props = {
		title: string;
		/** One thing is open: where there is little room, the index folds to this line. */
		fold?: string;
		index: Snippet;
		sheet: Snippet;
		margin: Snippet;
	};
	let { title, fold, index, sheet, margin }: Props = $props();
	let unfolded = $state(false);
	let list = $state<HTMLElement>();
	afterNavigate(() => (unfolded = false));

	function walk(event: KeyboardEvent) {
		const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
		if (!step || !(event.target instanceof HTMLAnchorElement)) return;
		const links = [...(event.currentTarget as HTMLElement).querySelectorAll('a')];
		const next = links[links.indexOf(event.target) + step];
		if (next) {
			event.preventDefault();
			next.focus();
		}
	}
	/** From the heading of the sheet, arrows go on in the index. */
	function walkOn(event: KeyboardEvent) {
		const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
		if (!step || !(event.target instanceof HTMLHeadingElement)) return;
		const links = [...(list?.querySelectorAll('a') ?? [])];
		const next = links[links.findIndex((a) => a.getAttribute('aria-current')) + step];
		if (next) {
			event.preventDefault();
			next.focus();
		}
	}
</script>

<div class="ledger">
	{#if fold}<button
			class="btn quiet fold"
			aria-expanded={unfolded}
			onclick={() => (unfolded = !unfolded)}
			data-do="unfold">{fold}</button
		>{/if}
	<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
	<nav class="index" class:folded={fold && !unfolded} bind:this={list} aria-label={title} onkeydown={walk}>
		{@render index()}
	</nav>
	<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
	<main class="sheet" id="sheet" tabindex="-1" onkeydown={walkOn}>{@render sheet()}</main>
	<aside class="margin" aria-label="Facts">{@render margin()}</aside>
</div>

<style>
	.ledger {
		display: grid;
		grid-template-columns: 17.5rem minmax(0, 1fr) 18rem;
		min-height: calc(100vh - 3rem);
	}
	.index,
	.margin {
		position: sticky;
		top: 3rem;
		max-height: calc(100vh - 3rem);
		overflow-y: auto;
	}
	.index {
		border-right: 1px solid var(--line);
		padding: 1rem 0 2rem;
	}
	/* A line of the index, and the one that is open. */
	.index :global(li > a) {
		color: var(--ink);
		text-decoration: none;
		border-left: 4px solid transparent;
	}
	.index :global(li > a:hover) {
		background: var(--sound-wash);
	}
	.index :global(li > a[aria-current]) {
		border-left-color: var(--sound);
		background: var(--panel);
	}
	.sheet {
		background: var(--panel);
		padding: 1.25rem 1.75rem 3rem;
		outline: none;
	}
	.margin {
		border-left: 1px solid var(--line);
		padding: 1.25rem 1.1rem 2rem;
		font-size: 0.875rem;
	}
	.fold {
		padding: 0.5rem 1rem;
	}
	@media (max-width: 900px) {
		.ledger {
			grid-template-columns: minmax(0, 1fr);
			align-content: start;
		}
		.index,
		.margin {
			position: static;
			max-height: none;
			border: 0;
			border-bottom: 1px solid var(--line);
		}
		.sheet {
			padding: 1rem 1rem 2rem;
		}
	}
</style>
