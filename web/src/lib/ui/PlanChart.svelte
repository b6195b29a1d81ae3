<!-- A plan as it was, and as it will likely go: a lane for each team, working days along the top. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { tip } from './tip.svelte';
	import { at, locale, minutes, taskStates } from '$lib/words';
	type Props = { chart: Schema['ChartView']; here?: string };
	let { chart, here }: Props = $props();

	const days = $derived(chart.days.length);
	/** Every how many days one is named, so that names never touch. */
	const step = $derived(Math.max(1, Math.ceil(days / 5)));
	const x = (place: number) => (place / days) * 100;
	/** Lines that stand close have their words on either side of the two. */
	const close = $derived(chart.due !== undefined && Math.abs(x(chart.now) - x(chart.due)) < 8);
	const late = $derived(chart.due !== undefined && chart.due < chart.now);
	/** Where a name has room: behind its bar, before it, or on a long one. */
	const side = (bar: Schema['BarView']) => (x(bar.to) <= 60 ? 'behind' : x(bar.from) > 35 ? 'before' : 'on');
	const left = (bar: Schema['BarView']) =>
		({
			behind: `calc(${Math.max(x(bar.to), x(bar.from) + 0.8)}% + 0.4rem)`,
			on: `calc(${x(bar.from)}% + 0.3rem)`,
			before: undefined
		})[side(bar)];
	const right = (bar: Schema['BarView']) =>
		side(bar) === 'before' ? `calc(${100 - x(bar.from)}% + 0.4rem)` : undefined;
	const word = (bar: Schema['BarView']) =>
		bar.state === 'stuck' || bar.state === 'stopped' || bar.state === 'undone'
			? taskStates[bar.state]
			: bar.state === 'asking'
				? 'asks'
				: bar.needed
					? ''
					: 'not needed';
	const named = new Intl.DateTimeFormat(locale, {
		weekday: 'short',
		day: 'numeric',
		month: 'short',
		timeZone: 'UTC'
	});
	const sentence = (bar: Schema['BarView']) =>
		`${bar.name}: ${bar.needed ? taskStates[bar.state] : 'likely not needed'}, ${at(bar.start)} to ${at(bar.finish)}` +
		(bar.critical ? '. The finish hangs on it' : bar.float > 0 ? `. It can slip ${minutes(bar.float)}` : '');
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
<figure class="chart" tabindex="0" aria-label="The plan">
	<div class="grid" role="img" aria-label="Plan over {days} working days; the list below says the same">
		<div class="head" aria-hidden="true">
			{#each chart.days as day, i (day)}
				{#if i % step === 0 && x(i) < 92}<span style:left="{x(i)}%"
						>{named.format(new Date(`${day}T00:00:00Z`))}</span
					>{/if}
			{/each}
		</div>
		{#each chart.lanes as lane (lane.team)}
			<div class="lane" aria-hidden="true">
				<p class="team">{lane.team || 'By itself'}</p>
				<div class="bars">
					{#each lane.tasks as bar (bar.key)}
						<div class="track">
							<span
								class="bar {bar.state}"
								class:critical={bar.critical}
								class:unneeded={!bar.needed}
								class:here={bar.key === here}
								class:rung={bar.key.startsWith('rung/')}
								style:left="{x(bar.from)}%"
								style:width="{Math.max(x(bar.to) - x(bar.from), 0.8)}%"
								{@attach tip(sentence(bar))}
							></span>
							<span class="name {side(bar)}" style:left={left(bar)} style:right={right(bar)}
								>{bar.name}{#if word(bar)}<em class:alarm={bar.state === 'stuck' || bar.state === 'asking'}
										>{word(bar)}</em
									>{/if}</span
							>
						</div>
					{/each}
				</div>
			</div>
		{/each}
		<div class="lines" aria-hidden="true">
			<div>
				<span class="now" class:before={close && !late} style:left="{x(chart.now)}%"><b>now</b></span>
				{#if chart.due !== undefined}<span
						class="due"
						class:before={close && late}
						style:left="{x(chart.due)}%"><b>due</b></span
					>{/if}
			</div>
		</div>
	</div>
	<ul class="sr-only">
		{#each chart.lanes as lane (lane.team)}{#each lane.tasks as bar (bar.key)}<li>
					{lane.team}: {sentence(bar)}
				</li>{/each}{/each}
	</ul>
</figure>

<style>
	.chart {
		--team: 7.5rem;
		--tail: 2.2rem; /* room for the word at a line that stands at the end */
		margin: 0;
		overflow-x: auto;
	}
	.grid {
		position: relative;
		min-width: 30rem;
		padding-bottom: 1.1rem;
	}
	.head {
		position: relative;
		height: 1.4rem;
		margin-inline: var(--team) var(--tail);
		border-bottom: 1px solid var(--line-strong);
		font-size: 0.75rem;
		color: var(--ink-soft);
	}
	.head span {
		position: absolute;
		padding-left: 0.25rem;
		border-left: 1px solid var(--line-strong);
		white-space: nowrap;
		height: 100%;
	}
	.lane {
		display: grid;
		grid-template-columns: var(--team) minmax(0, 1fr) var(--tail);
		border-bottom: 1px solid var(--line);
	}
	.team {
		font-size: 0.8125rem;
		color: var(--ink-soft);
		padding: 0.2rem 0.5rem 0.2rem 0;
		line-height: 1.2;
	}
	.bars {
		padding-block: 0.15rem;
	}
	.track {
		position: relative;
		height: 1.35rem;
	}
	.bar {
		position: absolute;
		top: 0.25rem;
		height: 0.8rem;
		min-width: 0.4rem;
		border: 1px solid var(--line-strong);
		background: var(--panel);
	}
	.bar.ready {
		border: 2px solid var(--sound);
	}
	.bar.taken,
	.bar.asking {
		border: 2px solid var(--sound);
		background: linear-gradient(135deg, var(--sound) 50%, var(--panel) 50%);
	}
	.bar.done {
		border-color: var(--kelp);
		background: var(--kelp);
	}
	.bar.undone,
	.bar.stopped,
	.bar.skipped,
	.bar.unneeded {
		border-style: dotted;
		background: transparent;
	}
	.bar.stuck {
		border: 2px solid var(--buoy);
		background: linear-gradient(to top right, transparent 42%, var(--buoy) 42% 58%, transparent 58%);
	}
	.bar.rung {
		border: 2px solid var(--brass);
		border-radius: 0.4rem;
	}
	.bar.critical::after {
		content: '';
		position: absolute;
		left: -2px;
		right: -2px;
		bottom: -0.32rem;
		height: 3px;
		background: var(--ink);
	}
	.bar.here {
		outline: 2px solid var(--ink);
		outline-offset: 2px;
	}
	.name {
		position: absolute;
		z-index: 1; /* above the lines of now and due */
		background: var(--panel);
		top: 0.05rem;
		font-size: 0.8125rem;
		white-space: nowrap;
		line-height: 1.2rem;
	}
	.name.on {
		padding-inline: 0.2rem;
	}
	.name em {
		margin-left: 0.35rem;
		color: var(--ink-soft);
	}
	.name em.alarm {
		color: var(--buoy-text);
		font-weight: 600;
	}
	.lines {
		position: absolute;
		inset: 1.4rem 0 0 0;
		pointer-events: none;
	}
	.lines div {
		position: absolute;
		inset: 0 var(--tail) 0 var(--team);
	}
	.lines span {
		position: absolute;
		top: 0;
		bottom: 0;
		border-left: 2px solid var(--sound);
	}
	.lines .due {
		border-left: 2px dashed var(--buoy);
	}
	.lines b {
		position: absolute;
		bottom: 0;
		left: 0.2rem;
		font: 600 0.75rem var(--heading);
		color: var(--sound);
		background: var(--panel);
		padding-inline: 0.15rem;
	}
	.lines .before b {
		left: auto;
		right: 0.3rem;
	}
	.lines .due b {
		color: var(--buoy-text);
	}
</style>
