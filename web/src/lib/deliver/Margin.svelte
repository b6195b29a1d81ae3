<!-- Beside a task: its request, the promise, its other tasks, and who of the team has how much. -->
<script lang="ts">
	import { languageName } from '$lib/words';
	import type { Schema } from '$lib/api/client';
	import Around from '$lib/ui/Around.svelte';
	import PromiseLine from '$lib/ui/PromiseLine.svelte';
	import Tasks from '$lib/ui/Tasks.svelte';
	type Props = {
		sheet: Schema['TaskSheet'] | undefined;
		team: { name: string } | undefined;
		load: Schema['LoadView'][] | undefined;
	};
	let { sheet, team, load }: Props = $props();
</script>

{#if sheet?.key}
	<h2 class="fact">Request</h2>
	<p>
		{#if sheet.whole}<a href="/follow/{sheet.request}"><strong>{sheet.title}</strong></a>{:else}<strong
				>{sheet.title}</strong
			>{/if}<br /><span class="mono">{sheet.reference}</span><br />asked by {sheet.asker}{#if sheet.for !== sheet.asker},
			for {sheet.for}{/if}
	</p>
	{#each sheet.wishes ?? [] as wish (wish.name)}
		<div class="wish" data-wish>
			{#if wish.address}<p>{wish.name} is addressed as <strong>{wish.address}</strong>.</p>{/if}
			{#if wish.reach}<p>
					{wish.address ? 'Can be reached' : `${wish.name} can be reached`}: {wish.reach}
				</p>{/if}
			{#if wish.language}<p>Speaks {languageName(wish.language)}.</p>{/if}
			{#if wish.help}<p>Needs: {wish.help}</p>{/if}
		</div>
	{/each}
	{#if sheet.promise}
		<h2 class="fact">Promise</h2>
		<PromiseLine promise={sheet.promise} forecast={sheet.forecast} />
	{/if}
	{#if sheet.others.length}
		<h2 class="fact">Its other tasks</h2>
		<Tasks tasks={sheet.others} />
	{/if}
	<Around request={sheet.request} />
{/if}
{#if load && team}
	<h2 class="fact">{team.name}: who has how much</h2>
	<table class="load">
		<thead
			><tr
				><th scope="col">Who</th><th scope="col">open</th><th scope="col">late</th><th scope="col">stuck</th
				></tr
			></thead
		>
		<tbody>
			{#each load as e (e.person ?? '')}
				<tr
					><td
						>{e.name}{#if e.absent}<span class="soft"> (absent)</span>{/if}</td
					><td class="mono">{e.open}</td><td class="mono" class:warn={e.late > 0}>{e.late}</td><td
						class="mono"
						class:warn={e.stuck > 0}>{e.stuck}</td
					></tr
				>
			{/each}
		</tbody>
	</table>
{/if}

<style>
	.wish {
		border-left: 4px solid var(--sound);
		padding-left: 0.6rem;
		margin-top: 0.5rem;
	}
	.load {
		width: 100%;
	}
	.load th {
		text-align: left;
		font-weight: 500;
		color: var(--ink-soft);
	}
	.load td {
		padding-block: 0.1rem;
	}
	.warn {
		color: var(--buoy-text);
		font-weight: 600;
	}
</style>
