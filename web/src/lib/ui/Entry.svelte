<!-- One line of an index. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	type Props = { href: string; here: boolean; mark?: Snippet; title: string; note: Snippet };
	let { href, here, mark, title, note }: Props = $props();
</script>

<a {href} aria-current={here ? 'page' : undefined}>
	{#if mark}{@render mark()}{/if}
	<span class="words">
		<strong>{title}</strong>
		<span class="note">{@render note()}</span>
	</span>
</a>

<style>
	a {
		display: flex;
		gap: 0.6rem;
		align-items: flex-start;
		padding: 0.55rem 1rem;
	}
	.words {
		min-width: 0;
	}
	strong {
		font-weight: 600;
		display: block;
		line-height: 1.3;
	}
	.note {
		display: block;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		line-height: 1.35;
	}
</style>
