<!-- A team over the weeks of a season: how much of its time the work takes, and in which weeks it is late. -->
<script lang="ts">
	import { scaleBand, scaleLinear } from 'd3-scale';
	import type { Schema } from '$lib/api/client';
	import { tip } from '$lib/ui/tip.svelte';
	import { minutes, shortDate } from '$lib/words';
	type Props = { team: Schema['ForeseeTeamOutlook']; before: Schema['ForeseeTeamOutlook'] | undefined };
	let { team, before }: Props = $props();

	let width = $state(640);
	const height = 92;
	const edge = { top: 8, right: 6, bottom: 20, left: 44 };
	const was = (i: number) => before?.weeks[i];
	const highest = $derived(Math.max(1.1, ...team.weeks.map((w, i) => Math.max(w.load, was(i)?.load ?? 0))));
	const x = $derived(
		scaleBand<number>()
			.domain(team.weeks.map((_, i) => i))
			.range([edge.left, width - edge.right])
			.paddingInner(0.22)
	);
	const y = $derived(
		scaleLinear()
			.domain([0, highest])
			.range([height - edge.bottom, edge.top])
	);
	const every = $derived(Math.max(1, Math.ceil(team.weeks.length / Math.max(1, (width - edge.left) / 40))));
	const percent = (n: number) => `${Math.round(n * 100)} %`;
	const number = (week: string) => Number(week.split('-W')[1]);
	const words = (i: number) => {
		const w = team.weeks[i]!;
		const other = was(i);
		return `Week ${number(w.week)}, from ${shortDate(w.from.slice(0, 10))}: ${percent(w.load)} of their time${other ? `, not ${percent(other.load)}` : ''}; a task waits ${minutes(Math.round(w.waited))}; ${percent(w.late)} late${other ? `, not ${percent(other.late)}` : ''}`;
	};
</script>

<section data-team={team.key} data-behind={team.behind.join(' ')} bind:clientWidth={width}>
	<h2>
		{team.summary}
		<span class="small soft">
			{team.people}
			{team.people === 1 ? 'person' : 'people'}; {percent(team.load.mean)} of their time{#if before}, now {percent(
					before.load.mean
				)}{/if}; {percent(team.late.mean)} late{#if before}, now {percent(before.late.mean)}{/if}
		</span>
	</h2>
	{#if before && before.behind.join() !== team.behind.join()}<p class="small" data-without>
			Without the change: {before.summary}.
		</p>{/if}
	<svg {width} {height} role="group" aria-label="{team.name} by week">
		{#each [0.5, 1] as share (share)}
			<line
				class:whole={share === 1}
				class="rule"
				x1={edge.left}
				x2={width - edge.right}
				y1={y(share)}
				y2={y(share)}
			/>
			<text class="tick" x={edge.left - 6} y={y(share)} dy="0.32em" text-anchor="end">{percent(share)}</text>
		{/each}
		{#each team.weeks as w, i (w.week)}
			{@const late = team.behind.includes(w.week)}
			<!-- svelte-ignore a11y_no_noninteractive_tabindex (each week tells its figures) -->
			<g
				tabindex="0"
				role="img"
				aria-label={words(i)}
				data-week={w.week}
				{@attach (node: SVGGElement) => tip(words(i))(node as unknown as HTMLElement)}
			>
				<rect
					class="hit"
					x={x(i)}
					y={edge.top}
					width={x.bandwidth()}
					height={height - edge.top - edge.bottom}
				/>
				<rect class="bar" x={x(i)} y={y(w.load)} width={x.bandwidth()} height={y(0) - y(w.load)} />
				{#if late}<rect
						class="late"
						fill="url(#late-{team.key})"
						x={x(i)}
						y={y(w.load)}
						width={x.bandwidth()}
						height={y(0) - y(w.load)}
					/>{/if}
				{#if was(i)}<rect
						class="was"
						x={(x(i) ?? 0) + 1}
						y={y(was(i)!.load)}
						width={Math.max(0, x.bandwidth() - 2)}
						height={y(0) - y(was(i)!.load)}
					/>{/if}
			</g>
			{#if i % every === 0}<text
					class="tick"
					class:is-late={late}
					x={(x(i) ?? 0) + x.bandwidth() / 2}
					y={height - 6}
					text-anchor="middle">{number(w.week)}</text
				>{/if}
		{/each}
		<defs
			><pattern
				id="late-{team.key}"
				width="5"
				height="5"
				patternUnits="userSpaceOnUse"
				patternTransform="rotate(45)"
				><rect width="5" height="5" fill="var(--paper)" /><rect
					width="3"
					height="5"
					fill="var(--buoy)"
				/></pattern
			></defs
		>
	</svg>
</section>

<style>
	section {
		border-top: 1px solid var(--line);
		padding-top: 0.5rem;
		overflow: hidden;
	}
	h2 {
		font-size: 1rem;
		margin: 0;
	}
	h2 span {
		font:
			400 0.875rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
	p {
		margin: 0;
	}
	.rule {
		stroke: var(--line);
	}
	.whole {
		stroke: var(--brass);
		stroke-dasharray: 6 3;
	}
	.tick {
		font-size: 0.6875rem;
		fill: var(--ink-soft);
		font-family: var(--mono);
	}
	.is-late {
		fill: var(--buoy-text);
		font-weight: 700;
	}
	.bar {
		fill: var(--sound);
	}
	.was {
		fill: none;
		stroke: var(--ink-soft);
		stroke-width: 1.5;
	}
	.hit {
		fill: transparent;
	}
	g:focus-visible {
		outline: none;
	}
	g:focus-visible .hit {
		stroke: var(--buoy);
		stroke-width: 2;
	}
</style>
