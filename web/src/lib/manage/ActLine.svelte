<!-- A row of the audit: who did what to which thing, and what has changed. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Changes from './Changes.svelte';
	import When from '$lib/ui/When.svelte';

	/** within: what it was done to is known already. */
	let { act, within = false }: { act: Schema['ActView']; within?: boolean } = $props();
</script>

<span class="soft small"><When time={act.at} absolute /></span>
<strong>{act.who}</strong>
{act.words}{#if !within && (act.name || act.thing)}: <em>{act.name || act.thing}</em>{/if}
{#if act.changes.length}<Changes changes={act.changes} />{/if}

<style>
	em {
		font-style: normal;
		font-weight: 600;
	}
</style>
