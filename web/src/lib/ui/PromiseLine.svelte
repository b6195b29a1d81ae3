<!-- The promise as a line of working time: gone, paused, left; due, and the likely finish. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { at, date, minutes } from '$lib/words';
	import Likely from './Likely.svelte';
	import When from './When.svelte';
	type Props = { promise: Schema['RequestPromiseLine']; forecast?: Schema['ForecastView'] };
	let { promise, forecast }: Props = $props();

	const words = $derived(
		{
			before: 'The clock has not started',
			running: promise.late ? `${minutes(-promise.left)} late` : `${minutes(promise.left)} left`,
			paused: 'Paused',
			kept: 'Kept',
			missed: 'Missed',
			over: 'Ended before'
		}[promise.state]
	);
	const first = $derived(promise.response);
	const counted = $derived(promise.counted);
	const pct = (n: number) => `${(n * 100).toFixed(2)}%`;
</script>

<div class="promise" data-promise={promise.state} class:late={promise.late}>
	<p class="says">
		<strong>{words}</strong>
		{#if promise.due && promise.state !== 'kept' && promise.state !== 'over'}<span class="soft"
				>due {at(promise.due)}</span
			>{/if}
	</p>
	<div class="line" aria-hidden="true">
		{#each promise.parts as part, i (i)}<span
				class={part.kind}
				style:left={pct(part.from)}
				style:width={pct(part.to - part.from)}
			></span>{/each}
		{#if promise.end !== undefined}<span class="end" style:left={pct(promise.end)}></span>{/if}
		{#if promise.sure !== undefined && promise.likely !== undefined && promise.sure > promise.likely}<span
				class="whisker"
				style:left={pct(promise.likely)}
				style:width={pct(promise.sure - promise.likely)}
			></span>{/if}
		{#if promise.likely !== undefined}<span class="likely" style:left={pct(promise.likely)}></span>{/if}
	</div>
	<p class="soft small">
		{promise.name}: {promise.day ? `ready for ${date(promise.day)}` : promise.target}; {minutes(promise.used)} used{#if promise.since},
			paused
			<When time={promise.since} />{/if}
	</p>
	{#if counted.from}
		<details class="small counted" data-counted>
			<summary>How this is counted</summary>
			<p>
				From {at(counted.from)}, in working time:
				{counted.deciding ? `${minutes(counted.deciding)} until it was decided, and ` : ''}{minutes(
					counted.us
				)}
				{counted.deciding ? 'since then' : 'of work'}.
				{#if counted.asker}{minutes(counted.asker)} it waited for who asked, and these do not count.{/if}
			</p>
			{#if counted.pauses.length}
				<p>It stood still:</p>
				<ul>
					{#each counted.pauses as pause (pause.from)}
						<li>
							{at(pause.from)}
							{pause.until ? `to ${at(pause.until)}` : 'until now'}: {pause.why}
						</li>
					{/each}
				</ul>
			{/if}
		</details>
	{/if}
	{#if first && first.state !== 'before' && first.state !== 'over'}
		<p class="small" class:warn={first.late} class:soft={!first.late} data-first-word={first.state}>
			First word {first.state === 'kept'
				? 'in time'
				: first.state === 'missed'
					? 'too late'
					: `due ${first.due ? at(first.due) : ''}`}
		</p>
	{/if}
	{#if forecast && (promise.state === 'running' || promise.state === 'paused')}
		<p class="small first" data-likely><Likely {forecast} /></p>
	{/if}
</div>

<style>
	.says {
		display: flex;
		flex-wrap: wrap;
		gap: 0 0.6rem;
		align-items: baseline;
	}
	.line {
		position: relative;
		height: 0.9rem;
		margin-block: 0.35rem 0.45rem;
		border-block: 1px solid var(--line-strong);
	}
	.line span {
		position: absolute;
		top: 0;
		bottom: 0;
	}
	.gone {
		background: var(--sound);
	}
	.late .gone {
		background: var(--buoy);
	}
	.paused {
		background: repeating-linear-gradient(45deg, var(--fog) 0 2px, transparent 2px 6px);
	}
	.line .end {
		top: -0.3rem;
		bottom: -0.3rem;
		border-left: 3px solid var(--ink);
		margin-left: -2px;
	}
	.line .whisker {
		top: 50%;
		bottom: auto;
		border-top: 2px solid var(--ink);
	}
	.line .likely {
		top: -0.1rem;
		width: 0.85rem;
		height: 0.85rem;
		bottom: auto;
		margin-left: -0.42rem;
		border: 2px solid var(--ink);
		background: var(--paper);
		transform: rotate(45deg);
	}
	.counted ul {
		list-style: disc;
		padding-left: 1.1rem;
	}
	.first::first-letter {
		text-transform: uppercase;
	}
	.warn {
		color: var(--buoy-text);
		font-weight: 600;
	}
</style>
