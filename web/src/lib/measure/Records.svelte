<!-- The records that a figure counts, with the columns one wants. What stands in no list is the last line, so that the sum is the figure's. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import More from '$lib/ui/More.svelte';
	import { at, standing } from '$lib/words';
	import type { Sentence } from './sentence';
	import { count, number, type Figure } from './words';

	type Props = {
		records: Schema['CountedBody'];
		sentence: Sentence;
		figure: Figure;
		/** Reads the page after a place; that of the sentence when it is left out. */
		more?: (after: string) => Promise<Schema['CountedBody']>;
	};
	let { records, sentence, figure, more }: Props = $props();
	type Line = Schema['CountedView'];
	const hours = (seconds: number) => number(seconds, 'open', '');
	const tasks = $derived(figure.subject === 'tasks');
	const columns: { key: string; name: string; of: (l: Line) => string; right?: boolean }[] = [
		{ key: 'task', name: 'Task', of: (l) => l.task ?? '' },
		{ key: 'team', name: 'Team', of: (l) => l.team ?? '' },
		{ key: 'waited', name: 'Waited', of: (l) => (l.task ? hours(l.waited) : ''), right: true },
		{ key: 'worked', name: 'In hand', of: (l) => (l.task ? hours(l.worked) : ''), right: true },
		{ key: 'late', name: 'Task late by', of: (l) => (l.late ? hours(l.late) : ''), right: true },
		{ key: 'offering', name: 'Offering', of: (l) => l.offering },
		{ key: 'service', name: 'Service', of: (l) => l.service },
		{ key: 'department', name: 'Department', of: (l) => l.department },
		{ key: 'location', name: 'Place', of: (l) => l.location ?? '' },
		{ key: 'costCentre', name: 'Cost centre', of: (l) => l.costCentre ?? '' },
		{
			key: 'status',
			name: 'Stands',
			of: standing
		},
		{
			key: 'used',
			name: 'Used of promised',
			of: (l) => (l.target ? `${hours(l.used)} of ${hours(l.target)}` : ''),
			right: true
		},
		{ key: 'speed', name: 'Speed', of: (l) => l.speed ?? '' },
		{ key: 'impact', name: 'Impact', of: (l) => l.impact ?? '' },
		{ key: 'urgency', name: 'Urgency', of: (l) => l.urgency ?? '' },
		{ key: 'sent', name: 'Sent', of: (l) => at(l.sent) },
		{ key: 'due', name: 'Due', of: (l) => (l.due ? at(l.due) : '') },
		{ key: 'delivered', name: 'Delivered', of: (l) => (l.delivered ? at(l.delivered) : '') },
		{ key: 'closed', name: 'Closed', of: (l) => (l.closed ? at(l.closed) : '') },
		{ key: 'backs', name: 'Sent back', of: (l) => (l.backs ? `${l.backs}×` : ''), right: true },
		{ key: 'cost', name: 'Cost', of: (l) => l.cost ?? '', right: true },
		{ key: 'version', name: 'Version', of: (l) => String(l.version), right: true }
	];
	const usual = $derived(
		tasks
			? ['task', 'team', 'waited', 'worked', 'late', 'department']
			: ['offering', 'department', 'status', 'used', 'sent']
	);
	let own = $state<string[]>();
	const shown = $derived(columns.filter((c) => (own ?? usual).includes(c.key)));
	const toggle = (key: string) => {
		const now = own ?? usual;
		own = now.includes(key) ? now.filter((k) => k !== key) : [...now, key];
	};
	const list = new Paged<{ entries: Line[]; next?: string }>(
		() => ({ entries: records.lines, next: records.next }),
		async (after) => {
			const page = more
				? await more(after)
				: await unwrap(api.POST('/api/measure/records', { params: { query: { after } }, body: sentence }));
			return { entries: page.lines, next: page.next };
		}
	);
</script>

<div class="head">
	<h2 id="records">{count(records.total)} {figure.whole}</h2>
	<details class="small">
		<summary>Columns</summary>
		<div class="columns">
			{#each columns as c (c.key)}
				<label
					><input
						type="checkbox"
						class="checkbox"
						checked={shown.includes(c)}
						onchange={() => toggle(c.key)}
						data-column={c.key}
					/>
					{c.name}</label
				>
			{/each}
		</div>
	</details>
</div>
<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
<div class="scroll" tabindex="0" role="group" aria-label="What it is made up of">
	<table data-total={records.total} data-hidden={records.hidden}>
		<thead
			><tr
				><th scope="col">Reference</th><th scope="col">Title</th>{#each shown as c (c.key)}<th
						scope="col"
						class:right={c.right}>{c.name}</th
					>{/each}</tr
			></thead
		>
		<tbody>
			{#each list.entries as line, i (`${line.reference} ${i}`)}
				<tr data-record={line.reference}>
					<td class="mono"
						>{#if line.request}<a href="/follow/{line.request}">{line.reference}</a
							>{:else}{line.reference}{/if}</td
					>
					<td class="title">{line.title}</td>
					{#each shown as c (c.key)}<td class:right={c.right} class:mono={c.right}>{c.of(line)}</td>{/each}
				</tr>
			{/each}
			{#if records.hidden > 0}
				<tr class="soft" data-not-shown={records.hidden}
					><td></td><td colspan={shown.length + 1}
						>{count(records.hidden)} more {records.hidden === 1 ? 'is' : 'are'} counted that you do not see one
						by one.</td
					></tr
				>
			{/if}
			{#if records.total === 0}<tr
					><td></td><td colspan={shown.length + 1} class="soft">There is nothing to count.</td></tr
				>{/if}
		</tbody>
	</table>
</div>
{#if list.next}<More more={list.more} />{/if}

<style>
	.head {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.5rem 1rem;
		align-items: baseline;
	}
	.columns {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(9rem, 1fr));
		gap: 0.2rem 0.8rem;
		padding: 0.5rem 0;
	}
	details[open] {
		flex-basis: 100%;
	}
	.columns label {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
	.scroll {
		overflow-x: auto;
	}
	table {
		width: 100%;
		border-collapse: collapse;
		font-size: 0.875rem;
	}
	th {
		text-align: left;
		font-weight: 400;
		color: var(--ink-soft);
		font-size: 0.8125rem;
	}
	:is(th, td) {
		padding: 0.25rem 0.8rem 0.25rem 0;
		border-bottom: 1px solid var(--line);
		white-space: nowrap;
	}
	.title {
		max-width: 22rem;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.right {
		text-align: right;
	}
	tbody tr:hover {
		background: var(--sound-wash);
	}
</style>
