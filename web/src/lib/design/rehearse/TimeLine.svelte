<!-- The time of a rehearsal as a line: what happened stands on it, and one drags along it. -->
<script lang="ts">
	import { at } from '$lib/words';
	import { getRehearsal } from './rehearsal.svelte';
	const rehearsal = getRehearsal();

	const frames = $derived(rehearsal.frames);
	const last = $derived(Math.max(1, frames.length - 1));
	/** Places in per cent: partly by the clock, partly by the order, so that what is close can be told apart. */
	const places = $derived.by(() => {
		const from = Date.parse(frames[0]?.at ?? '');
		const whole = Math.max(1, Date.parse(frames.at(-1)?.at ?? '') - from);
		return frames.map((f, i) => 40 * ((Date.parse(f.at) - from) / whole) + 60 * (i / last));
	});
	const here = $derived(frames[rehearsal.here]);
	const days = $derived.by(() => {
		const names: { place: number; words: string }[] = [];
		let before = '';
		frames.forEach((f, i) => {
			const day = at(f.at).replace(/,? \d\d:\d\d$/, '');
			const place = places[i] ?? 0;
			if (day !== before && (names.length === 0 || place - (names.at(-1)?.place ?? 0) > 9) && place < 94)
				names.push({ place, words: day });
			before = day;
		});
		return names;
	});
	let strip = $state<HTMLElement>();
	function drag(event: PointerEvent) {
		if (event.type === 'pointerdown') (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
		else if (!(event.buttons & 1)) return;
		const box = strip?.getBoundingClientRect();
		if (!box) return;
		const x = ((event.clientX - box.left) / box.width) * 100;
		let best = 0;
		places.forEach((p, i) => {
			if (Math.abs(p - x) < Math.abs((places[best] ?? 0) - x)) best = i;
		});
		if (best !== rehearsal.here) rehearsal.go(best);
	}
	function keys(event: KeyboardEvent) {
		const to = {
			ArrowLeft: rehearsal.here - 1,
			ArrowRight: rehearsal.here + 1,
			PageUp: rehearsal.here - 5,
			PageDown: rehearsal.here + 5,
			Home: 0,
			End: last
		}[event.key];
		if (to === undefined) return;
		event.preventDefault();
		rehearsal.go(to);
	}
</script>

<section class="time" aria-label="The time of the rehearsal">
	<p class="steps">
		<button class="btn quiet small" onclick={() => rehearsal.go(0)} disabled={rehearsal.here === 0}
			>Sent</button
		>
		<button
			class="btn quiet small"
			onclick={() => rehearsal.go(rehearsal.here - 1)}
			disabled={rehearsal.here === 0}
			data-do="back">One back</button
		>
		<strong data-now>{here ? at(here.at) : ''}</strong>
		<button
			class="btn quiet small"
			onclick={() => rehearsal.go(rehearsal.here + 1)}
			disabled={rehearsal.here >= last}
			data-do="step">One on</button
		>
		<button
			class="btn plain small"
			onclick={() => rehearsal.go(last)}
			disabled={rehearsal.here >= last}
			data-do="end">Run to the end</button
		>
	</p>
	<div
		class="strip"
		bind:this={strip}
		role="slider"
		tabindex="0"
		aria-label="Where one looks"
		aria-valuemin="0"
		aria-valuemax={last}
		aria-valuenow={rehearsal.here}
		aria-valuetext={here ? `${at(here.at)}: ${here.says.at(-1) ?? ''}` : ''}
		onpointerdown={drag}
		onpointermove={drag}
		onkeydown={keys}
	>
		<svg width="100%" height="34" aria-hidden="true">
			<line x1="0" x2="100%" y1="18" y2="18" class="base" />
			<line x1="0" x2="{places[rehearsal.here] ?? 0}%" y1="18" y2="18" class="gone" />
			{#each frames as frame, i (frame.events)}
				{@const x = `${places[i]}%`}
				{#if frame.kind === 'decision'}<rect {x} y="8" width="5" height="20" class="decision" />
				{:else if frame.kind === 'trouble'}<line x1={x} x2={x} y1="3" y2="33" class="trouble" />
				{:else if frame.kind === 'stage'}<line x1={x} x2={x} y1="5" y2="31" class="stage" />
				{:else}<line x1={x} x2={x} y1="12" y2="24" class="tick" />{/if}
			{/each}
			<circle cx="{places[rehearsal.here] ?? 0}%" cy="18" r="7" class="grip" />
		</svg>
		{#each days as day (day.place)}<span class="day" style:left="{day.place}%">{day.words}</span>{/each}
	</div>
	<p class="small says">
		{#if here}{here.says.slice(-3).join(' · ')}{/if}
	</p>
</section>

<style>
	.time {
		border-top: 2px solid var(--ink);
		padding-block: 0.4rem 0.6rem;
		background: var(--panel);
		position: sticky;
		bottom: 0;
		z-index: 2;
	}
	.steps {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.35rem;
	}
	.steps strong {
		min-width: 9.5rem;
		text-align: center;
		font-variant-numeric: tabular-nums;
	}
	.strip {
		position: relative;
		padding: 0 8px 1.1rem;
		touch-action: none;
		cursor: ew-resize;
	}
	svg {
		display: block;
		overflow: visible;
	}
	.base {
		stroke: var(--line-strong);
		stroke-width: 2;
	}
	.gone {
		stroke: var(--sound);
		stroke-width: 4;
	}
	.tick {
		stroke: var(--ink-soft);
		stroke-width: 1.5;
	}
	.stage {
		stroke: var(--sound);
		stroke-width: 3;
	}
	.decision {
		fill: var(--panel);
		stroke: var(--ink);
		stroke-width: 1.5;
	}
	.trouble {
		stroke: var(--buoy);
		stroke-width: 2;
		stroke-dasharray: 3 2;
	}
	.grip {
		fill: var(--sound);
		stroke: var(--panel);
		stroke-width: 2;
	}
	.day {
		position: absolute;
		bottom: 0;
		font-size: 0.75rem;
		color: var(--ink-soft);
		white-space: nowrap;
	}
	.says {
		min-height: 1.4em;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
</style>
