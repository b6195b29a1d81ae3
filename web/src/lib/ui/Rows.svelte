<!--
	The lines of a list. Of a long one only those near what is in sight are there, and the one that has the focus;
	room is left for the others.
-->
<script lang="ts" generics="T">
	import { untrack, type Snippet } from 'svelte';
	import { createAttachmentKey } from 'svelte/attachments';
	import type { HTMLLiAttributes } from 'svelte/elements';
	import {
		createVirtualizer,
		createWindowVirtualizer,
		defaultRangeExtractor,
		type Range,
		type VirtualItem
	} from '@tanstack/svelte-virtual';
	import { boxOf, gapsOf, placeIn } from './rows';

	type Props = {
		entries: T[];
		key: (entry: T) => string;
		/** A line, as an element that takes what it is given. */
		row: Snippet<[T, HTMLLiAttributes]>;
	};
	let { entries, key, row }: Props = $props();

	/** Up to so many lines are all there. */
	const most = 100;
	const long = $derived(entries.length > most);
	let top = $state<HTMLElement>();
	let heights: number[] = []; // of the lines that were there when the list grew long
	let usual = 64; // of a line, until one is measured
	let focused = -1;
	let items = $state.raw<VirtualItem[]>([]);
	let total = $state(0);
	let box: HTMLElement | undefined;
	type Lines = Parameters<Parameters<ReturnType<typeof createVirtualizer>['subscribe']>[0]>[0];
	let lines: Lines | undefined;
	const rowKey = createAttachmentKey();

	$effect.pre(() => {
		if (!long || heights.length || !top) return;
		for (let line = top.nextElementSibling; line; line = line.nextElementSibling)
			heights.push(line.getBoundingClientRect().height);
		if (heights.length) usual = heights.reduce((sum, height) => sum + height, 0) / heights.length;
	});
	/** The line that has the focus stays, wherever one has scrolled to, and those that arrows lead to from it. */
	const range = (of: Range) => {
		const beside = focused < 0 ? [] : [focused - 1, focused, focused + 1];
		const there = beside.filter((i) => i >= 0 && i < of.count);
		return [...new Set([...defaultRangeExtractor(of), ...there])].sort((a, b) => a - b);
	};
	const options = () => ({
		count: entries.length,
		getItemKey: (i: number) => (entries[i] === undefined ? i : key(entries[i])),
		estimateSize: (i: number) => heights[i] ?? usual,
		overscan: 12,
		rangeExtractor: range,
		scrollMargin: top ? placeIn(box, top) : 0
	});
	// A short list is not measured: that would have the page laid out before it is whole.
	$effect(() => {
		if (!long || !top) return;
		box = boxOf(top);
		const first = untrack(options);
		const all = box
			? createVirtualizer<HTMLElement, Element>({ ...first, getScrollElement: () => box! })
			: (createWindowVirtualizer<Element>(first) as unknown as ReturnType<
					typeof createVirtualizer<HTMLElement, Element>
				>);
		const end = all.subscribe((now) => {
			lines = now as unknown as Lines;
			items = now.getVirtualItems();
			total = now.getTotalSize();
		});
		return () => {
			end();
			lines = undefined;
		};
	});
	$effect(() => {
		if (!long) return;
		const changed = options();
		untrack(() => lines?.setOptions(changed));
	});
	const gaps = $derived(gapsOf(items, total, lines?.options.scrollMargin ?? 0));
	const measured = (i: number) => ({
		'data-index': i,
		onfocusin: () => (focused = i),
		onfocusout: () => (focused = -1),
		[rowKey]: (node: Element) => lines?.measureElement(node)
	});
</script>

<li bind:this={top} aria-hidden="true" class="gap" style:height="{long ? gaps.first : 0}px"></li>
{#if long}
	{#each items as item, i (item.key)}
		{#if i && gaps.before[i]}<li aria-hidden="true" class="gap" style:height="{gaps.before[i]}px"></li>{/if}
		{@const entry = entries[item.index]}
		{#if entry !== undefined}{@render row(entry, measured(item.index))}{/if}
	{/each}
	<li aria-hidden="true" class="gap" style:height="{gaps.last}px"></li>
{:else}
	{#each entries as entry (key(entry))}{@render row(entry, {})}{/each}
{/if}

<style>
	.gap.gap {
		display: block;
		padding: 0;
		border: 0;
	}
</style>
