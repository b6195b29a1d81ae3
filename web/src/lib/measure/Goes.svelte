<!-- Where the time of an offering goes: each decision and task as long as it took in the middle of all. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { count, number, type Value } from './words';

	type Props = {
		goes: Schema['GoesBody'];
		/** What stands beside it: its longest end, so that both have one scale. */
		whole: number;
		title: string;
	};
	let { goes, whole, title }: Props = $props();
	const hours = (seconds: number) => number(seconds, 'open', '');
	const x = (seconds: number) => `${(100 * seconds) / (whole || 1)}%`;
	const kinds: Record<string, string> = {
		rung: 'decision',
		automatic: 'by itself',
		wait: 'a wait',
		message: 'a message',
		manual: ''
	};
	const share = (v: Value) => (v.number === undefined ? '' : number(v.number, 'share', ''));
	const most = $derived(goes.steps.find((s) => s.most));
</script>

<section>
	<h2>{title}</h2>
	<p>
		{#if goes.requests.number === undefined}Nothing of it was delivered with a promise in this time.{:else}
			Half of {count(goes.requests.records)} were delivered within
			<strong>{hours(goes.requests.number)}</strong>
			of open time, four of five within {hours(goes.requests.p80 ?? 0)}.{/if}
		{#if goes.whole > 0}Step by step that is {hours(goes.whole)};
			<strong>if nothing waited, {hours(goes.working)}</strong>.{/if}
		{#if most}<span class="most-word">Most time goes into {most.name}.</span>{/if}
	</p>
	<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
	<div class="scroll" tabindex="0" role="group" aria-label="How its requests go, step by step">
		<table data-goes={goes.version || 'all'}>
			<thead
				><tr
					><th scope="col">Step</th><td class="chart"></td><th scope="col">waited</th><th scope="col"
						>in hand</th
					><th scope="col">four of five</th><th scope="col">done</th><th scope="col">in time</th><th
						scope="col">stuck</th
					><th scope="col">handed over</th></tr
				></thead
			>
			<tbody>
				{#each goes.steps as s (`${s.kind} ${s.key}`)}
					<tr class:most={s.most} data-step={s.key}>
						<th scope="row"
							>{s.name}
							<span class="soft small">{[kinds[s.kind], s.team].filter(Boolean).join(', ')}</span
							>{#if s.most}<span class="most-word small">takes longest</span>{/if}</th
						>
						<td class="chart" aria-hidden="true">
							<span
								class="bar"
								class:critical={s.critical}
								style:left={x(s.start)}
								style:width={x(s.waited + s.worked)}
							>
								<i class="waited" style:flex-grow={s.waited}></i><i class="worked" style:flex-grow={s.worked}
								></i>
							</span>
							{#if s.p80 > s.waited + s.worked}<span
									class="spread"
									style:left={x(s.start + s.waited + s.worked)}
									style:width={x(
										Math.min(s.p80 - s.waited - s.worked, whole - s.start - s.waited - s.worked)
									)}
								></span>{/if}
						</td>
						<td class="mono" data-name="waited">{s.waited ? hours(s.waited) : ''}</td>
						<td class="mono" data-name="in hand">{s.worked ? hours(s.worked) : ''}</td>
						<td class="mono" data-name="four of five">{s.p80 ? hours(s.p80) : ''}</td>
						<td class="mono" data-name="done">{count(s.count)}</td>
						{#if s.kind === 'rung'}
							<td class="mono soft" colspan="3">
								{#if s.passed.number !== undefined}{share(s.passed)} said yes{/if}
							</td>
						{:else}
							<td class="mono" data-name="in time">{share(s.inTime)}</td>
							<td class="mono" data-name="stuck">{s.stuck.part ? share(s.stuck) : ''}</td>
							<td class="mono" data-name="handed over">{s.handed.part ? share(s.handed) : ''}</td>
						{/if}
					</tr>
				{:else}<tr><td colspan="9" class="soft">It has no steps.</td></tr>{/each}
			</tbody>
		</table>
	</div>
</section>

<style>
	.scroll {
		overflow-x: auto;
	}
	table {
		width: 100%;
		min-width: 56rem;
		table-layout: fixed;
		border-collapse: collapse;
		font-size: 0.875rem;
	}
	thead th:first-child {
		width: 23%;
	}
	:is(th, td) {
		padding: 0.25rem 0.6rem 0.25rem 0;
		border-bottom: 1px solid var(--line);
		white-space: nowrap;
	}
	thead th {
		font-weight: 400;
		color: var(--ink-soft);
		text-align: right;
		font-size: 0.8125rem;
	}
	thead th:first-child {
		text-align: left;
	}
	tbody th {
		text-align: left;
		font-weight: 400;
		max-width: 22rem;
		white-space: normal;
		line-height: 1.25;
	}
	td {
		text-align: right;
	}
	.chart {
		width: 33%;
		position: relative;
	}
	.bar {
		position: absolute;
		top: 0.45rem;
		height: 0.85rem;
		display: flex;
		min-width: 2px;
	}
	.bar.critical {
		border-bottom: 3px solid var(--ink);
		height: 1.05rem;
	}
	.waited {
		background: var(--sound-wash);
		box-shadow: inset 0 0 0 1px var(--sound);
	}
	.worked {
		background: var(--sound);
	}
	.spread {
		position: absolute;
		top: 0.85rem;
		height: 0;
		border-top: 1px dashed var(--sound);
	}
	@media (max-width: 40rem) {
		table,
		tbody {
			display: block;
			min-width: 0;
		}
		thead {
			display: none;
		}
		tr {
			display: grid;
			grid-template-columns: repeat(2, minmax(0, 1fr));
			gap: 0.1rem 1rem;
			padding: 0.4rem 0;
			border-bottom: 1px solid var(--line);
		}
		:is(th, td) {
			border: 0;
			padding: 0;
			text-align: left;
		}
		th,
		.chart {
			grid-column: 1 / -1;
			width: auto;
			max-width: none;
		}
		.chart {
			height: 1.6rem;
		}
		td:empty {
			display: none;
		}
		td[data-name]::before {
			content: attr(data-name) ' ';
			font-family: var(--base-font-family);
			color: var(--ink-soft);
		}
	}
	.most th {
		font-weight: 600;
	}
	th .most-word {
		margin-left: 0.4rem;
	}
	.most-word {
		color: var(--buoy-text);
		font-weight: 600;
	}
</style>
