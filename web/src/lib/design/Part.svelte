<!-- One part of a side in a list: its title opens it; it moves and goes. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import Found from './Found.svelte';
	type Props = {
		title: string;
		note: string;
		place: string;
		first: boolean;
		last: boolean;
		open: boolean;
		children: Snippet;
		onmove: (step: -1 | 1) => void;
		onremove: () => void;
	};
	let { title, note, place, first, last, open = $bindable(), children, onmove, onremove }: Props = $props();
</script>

<li data-part={place}>
	<div class="head">
		<button class="title" aria-expanded={open} onclick={() => (open = !open)}>
			<span aria-hidden="true" class="sign">{open ? '–' : '+'}</span>
			<strong>{title}</strong> <span class="soft small">{note}</span>
		</button>
		<button class="btn quiet" disabled={first} onclick={() => onmove(-1)}
			>Up<span class="sr-only">: {title}</span></button
		>
		<button class="btn quiet" disabled={last} onclick={() => onmove(1)}
			>Down<span class="sr-only">: {title}</span></button
		>
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
	.head .btn:disabled {
		background: none;
		text-decoration: none;
	}
	.title {
		flex: 1;
		text-align: left;
		padding-block: 0.3rem;
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
