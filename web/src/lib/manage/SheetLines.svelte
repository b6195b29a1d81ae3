<!-- The lines of a sheet, each with what becomes of it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';

	import Changes from './Changes.svelte';

	type Props = { sheet: Schema['SheetView']; running: boolean; onleave: (line: number) => void };
	let { sheet, running, onleave }: Props = $props();
	const words = {
		wrong: 'wrong',
		waits: 'waits',
		new: 'new',
		changed: 'changed',
		same: 'the same',
		left: 'left out'
	};
	const name = (field: string) => sheet.fields.find((f) => f.key === field)?.name ?? field;
	/** Of something new its fields are read across, of what is there what is another. */
	const many = 8;
</script>

<ul>
	{#each sheet.lines as l (l.line)}
		<li data-line={l.line} data-state={l.state}>
			<span class="mono soft">{l.line}</span>
			<span class="state" class:warn={l.state === 'wrong'}>{words[l.state]}</span>
			<div>
				<strong>{l.name || 'nameless'}</strong>
				{#each l.problems as problem, i (i)}<span class="problem small block">{problem}</span>{/each}
				{#if l.changes.length && !l.problems.length}<Changes changes={l.changes.slice(0, many)} {name} />{/if}
			</div>
			{#if l.state !== 'same'}<button
					class="btn quiet small"
					disabled={running}
					onclick={() => onleave(l.line)}
					>{l.state === 'left' ? 'Take in' : 'Leave out'}<span class="sr-only">&nbsp;line {l.line}</span
					></button
				>{/if}
		</li>
	{:else}<li class="soft">No line is so.</li>{/each}
</ul>

<style>
	ul {
		margin-top: 0.5rem;
		border-top: 1px solid var(--line);
	}
	li {
		display: grid;
		grid-template-columns: 3.5rem 5.5rem minmax(0, 1fr) auto;
		gap: 0.6rem;
		align-items: baseline;
		padding: 0.25rem 0;
		border-bottom: 1px solid var(--line);
	}
	.block {
		display: block;
		overflow-wrap: anywhere;
	}
	.warn {
		color: var(--buoy-text);
		font-weight: 600;
	}
	li .btn {
		padding-block: 0;
	}
</style>
