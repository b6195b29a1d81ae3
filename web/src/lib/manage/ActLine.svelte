<!-- A row of the audit: who did what to which thing, and what has changed. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import When from '$lib/ui/When.svelte';

	/** within: what it was done to is known already. */
	let { act, within = false }: { act: Schema['ActView']; within?: boolean } = $props();
</script>

<span class="soft small"><When time={act.at} absolute /></span>
<strong>{act.who}</strong>
{act.words}{#if !within && (act.name || act.thing)}: <em>{act.name || act.thing}</em>{/if}
{#if act.changes.length}
	<span class="changes small"
		>{#each act.changes as c, i (i)}{#if i};
			{/if}<span class="soft">{c.field}:</span>
			{#if c.before}<del>{c.before}</del>
				<span aria-hidden="true">→</span>{/if}
			{c.after || (c.before ? 'nothing' : '')}{/each}</span
	>
{/if}

<style>
	em {
		font-style: normal;
		font-weight: 600;
	}
	.changes {
		display: block;
		overflow-wrap: anywhere;
	}
	del {
		color: var(--ink-soft);
	}
</style>
