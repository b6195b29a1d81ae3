<!-- Whose time a calendar keeps, so that one knows what a change changes. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { list } from '$lib/words';
	let { uses, changed }: { uses: Schema['CalendarView']['uses']; changed: boolean } = $props();
	const hit = $derived(
		(
			[
				['the promises of', uses?.offerings ?? [], 'offerings'],
				['the work of', uses?.teams ?? [], 'teams'],
				['the people in', uses?.locations ?? [], 'places']
			] as const
		).filter(([, names]) => names.length > 0)
	);
	const few = 3; // so many are named at once
	const hits = $derived(
		list.format(
			hit.map(([what, names, kind]) =>
				names.length > few ? `${what} ${names.length} ${kind}` : `${what} ${list.format(names)}`
			)
		)
	);
</script>

{#if hit.length}
	<details class="small" data-uses>
		<summary class:soft={!changed}
			>{#if changed}Keeping it changes {hits}, those under way too.{:else}It keeps the time of {hits}.{/if}</summary
		>
		{#each hit as [what, names] (what)}<p class="soft">{what} {list.format(names)}</p>{/each}
	</details>
{/if}
