<!-- Rows under headings: they order by a heading, and go on to the next page where there are many. -->
<script lang="ts" generics="Row">
	import type { Snippet } from 'svelte';
	import { compare } from '$lib/words';
	import { tabled, type Column } from './table';
	type Props = {
		/** What the rows are, for those who hear it. */
		label: string;
		columns: readonly Column<Row>[];
		rows: readonly Row[];
		id: (row: Row) => string;
		/** The cells of a row; they are given the row above as well. */
		cells: Snippet<[Row, Row | undefined]>;
		/** What stands there when there are none. */
		none: string;
		size?: number;
		/** Of each row, for tests and styles. */
		data?: (row: Row) => Record<`data-${string}`, string>;
		/** The rows are one page of many more, which the program orders and turns. */
		served?: {
			count: number;
			at: number;
			by: { key: string; down: boolean } | undefined;
			order: (key: string) => void;
			turn: (page: number) => void;
		};
	};
	let { label, columns, rows, id, cells, none, size = 50, data, served }: Props = $props();

	let chosen = $state<{ key: string; down: boolean }>();
	let at = $state(1);
	const by = $derived(served ? served.by : chosen);
	const count = $derived(served?.count ?? rows.length);
	const view = $derived(
		served
			? { rows, at: served.at, pages: Math.ceil(count / size) }
			: tabled(rows, columns, { by, at, size, compare })
	);

	/** Up, down, and as it came. */
	function order(key: string) {
		if (served) return served.order(key);
		chosen = chosen?.key !== key ? { key, down: false } : chosen.down ? undefined : { key, down: true };
		at = 1;
	}
	const sorted = (key: string) => (by?.key !== key ? 'none' : by.down ? 'descending' : 'ascending');
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
<div class="scroll" tabindex="0" role="group" aria-label={label}>
	<table>
		<thead>
			<tr>
				{#each columns as column (column.key)}
					<th scope="col" aria-sort={column.by && sorted(column.key)}>
						{#if column.by}
							<button onclick={() => order(column.key)} data-order={column.key}
								>{column.name}<span class="sign" aria-hidden="true"
									>{by?.key === column.key ? (by.down ? '↓' : '↑') : ''}</span
								></button
							>
						{:else}<span class:sr-only={column.quiet}>{column.name}</span>{/if}
					</th>
				{/each}
			</tr>
		</thead>
		<tbody>
			{#each view.rows as row, i (id(row))}
				<tr {...data?.(row)}>{@render cells(row, view.rows[i - 1])}</tr>
			{:else}
				<tr><td colspan={columns.length} class="soft">{none}</td></tr>
			{/each}
		</tbody>
	</table>
</div>
{#if view.pages > 1}
	{#await import('./Pages.svelte') then { default: Pages }}
		<Pages {label} {count} {size} at={view.at} onturn={served?.turn ?? ((page) => (at = page))} />
	{/await}
{/if}

<style>
	.scroll {
		position: relative; /* or what only a screen reader reads sticks out */
		overflow-x: auto;
	}
	table {
		width: 100%;
		min-width: var(--least, 46rem);
		margin-top: 0.6rem;
	}
	table :global(:is(th, td)) {
		text-align: left;
		padding: 0.35rem 0.75rem 0.35rem 0;
		border-bottom: 1px solid var(--line);
		vertical-align: top;
	}
	thead th {
		font-weight: 500;
		color: var(--ink-soft);
	}
	thead button {
		font: inherit;
		color: inherit;
		text-decoration: underline dotted;
		text-underline-offset: 3px;
		white-space: nowrap;
	}
	.sign {
		display: inline-block;
		width: 1.1em;
		text-align: center;
	}
</style>
