<!-- The end of a form: what is missing, what it comes to, and the ways to go on. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import Changed from './Changed.svelte';
	import Discard from './Discard.svelte';
	import type { Draft } from './draft.svelte';
	import Missing from './Missing.svelte';
	import { inOneLine } from './pages';

	type Props = {
		draft: Draft;
		act: Act;
		open: { key: string; sentence: string }[];
		changed: { before: Schema['Evaluation']; now: Schema['Evaluation'] } | undefined;
		/** What the button says that sends. */
		button: string;
		back: boolean;
		/** Name of the next page; nothing on the last. */
		next: string | undefined;
		reply: string;
		onjump: (key: string) => void;
		onback: () => void;
		onslip: () => void;
	};
	let {
		draft,
		act,
		open,
		changed,
		button,
		back,
		next,
		reply = $bindable(),
		onjump,
		onback,
		onslip
	}: Props = $props();
	const form = $derived(draft.form);
	const result = $derived(form.result);
</script>

<div class="send">
	{#if !next && open.length > 0}<Missing {open} {onjump} />{/if}
	{#if changed}
		<Changed {...changed} />
	{:else}
		<Trouble problem={act.problem ?? draft.problem} />
	{/if}
	{#if form.returned && !next}
		<label class="reply"
			><span>Your answer to {form.returned.by}</span>
			<textarea class="textarea" rows="2" bind:value={reply} maxlength="2000" data-field="reply"></textarea>
		</label>
	{/if}
	{#if !result.trouble}
		<p class="total" data-running-total>{inOneLine(result)}</p>
	{/if}
	<div class="buttons">
		{#if back}<button type="button" class="btn plain" onclick={onback}>Back</button>{/if}
		{#if !next}
			<button class="btn do" disabled={act.running}>{button}</button>
			{#if !form.returned}<button
					type="button"
					class="btn quiet"
					onclick={onslip}
					disabled={act.running}
					data-do="to-slip">Put on my slip</button
				>{/if}
		{:else}
			<button class="btn do">Next: {next}</button>
		{/if}
		<span class="soft small" role="status">
			{#if draft.problem}Not saved yet, but kept in this browser.{:else if draft.pending}Saving …{:else if form.savedAt}Draft
				saved <When time={form.savedAt} />{:else}What you type is saved as a draft.{/if}
		</span>
		{#if form.draft && !form.returned}<Discard {draft} {act} />{/if}
	</div>
</div>

<style>
	.reply {
		display: grid;
		gap: 0.2rem;
		margin-bottom: 0.6rem;
	}
	.send {
		border-top: 2px solid var(--ink);
		margin-top: 1rem;
		padding-top: 0.9rem;
		display: grid;
		gap: 0.75rem;
	}
	.total {
		display: none;
	}
	@media (max-width: 900px) {
		.total {
			display: block;
		}
	}
</style>
