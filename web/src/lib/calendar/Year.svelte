<!-- A year at a glance: a line for each month, and in each day its open hours. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { tip } from '$lib/ui/tip.svelte';
	import { minutes, locale } from '$lib/words';
	type Props = { year: number; days: Schema['CalendarDay'][]; onday?: (date: string) => void };
	let { year, days, onday }: Props = $props();

	const named = new Intl.DateTimeFormat(locale, { month: 'long', timeZone: 'UTC' });
	const whole = new Intl.DateTimeFormat(locale, { dateStyle: 'full', timeZone: 'UTC' });
	const weekday = new Intl.DateTimeFormat(locale, { weekday: 'narrow', timeZone: 'UTC' });
	const months = $derived(
		Array.from({ length: 12 }, (_, m) => ({
			name: named.format(new Date(Date.UTC(year, m, 1))),
			days: days.filter((d) => Number(d.date.slice(5, 7)) === m + 1)
		}))
	);
	const most = $derived(Math.max(1, ...days.map((d) => d.open)));
	const hours = (open: number) => (open === 0 ? '' : String(Math.round(open / 6) / 10).replace('.0', ''));
	const says = (d: Schema['CalendarDay']) =>
		`${whole.format(new Date(`${d.date}T00:00:00Z`))}: ${d.open ? `open ${minutes(d.open)}` : 'closed'}${d.name ? `, ${d.name}` : d.not ? ', not as usual' : ''}`;
	const dates = Array.from({ length: 31 }, (_, i) => i + 1);
	const day = (date: string) => new Date(`${date}T00:00:00Z`);
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
<div class="year" tabindex="0" role="group" aria-label="{year} at a glance">
	<table>
		<thead>
			<tr>
				<td></td>
				{#each dates as n (n)}<th scope="col">{n}</th>{/each}
			</tr>
		</thead>
		<tbody>
			{#each months as month (month.name)}
				<tr>
					<th scope="row">{month.name}</th>
					{#each month.days as d (d.date)}
						<td>
							<button
								tabindex="-1"
								class:shut={d.open === 0}
								class:not={d.not}
								class:sunday={day(d.date).getUTCDay() === 0}
								style:--full={d.open / most}
								{@attach tip(says(d))}
								aria-label={says(d)}
								disabled={!onday}
								onclick={() => onday?.(d.date)}
								data-day={d.date}>{hours(d.open) || weekday.format(day(d.date))}</button
							>
						</td>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
</div>
<p class="hint">
	Each day shows its open hours, a closed one its weekday; an underlined one is not as its weekday usually is.
	{#if onday}Click a day to give it other hours.{/if}
</p>

<style>
	.year {
		overflow-x: auto;
	}
	table {
		border-collapse: collapse;
		width: 100%;
		min-width: 46rem;
		table-layout: fixed;
		font: 0.6875rem var(--mono);
	}
	th {
		font-weight: 400;
		color: var(--ink-soft);
	}
	th[scope='row'] {
		text-align: left;
		font-family: 'Atkinson Hyperlegible Next Variable', sans-serif;
		font-size: 0.8125rem;
	}
	tr > :first-child {
		width: 5.5rem;
	}
	td {
		padding: 1px;
	}
	button {
		width: 100%;
		height: 1.5rem;
		text-align: center;
		color: var(--ink);
		background: color-mix(in srgb, var(--sound-wash) calc(var(--full) * 100%), var(--panel));
		border-bottom: 3px solid transparent;
	}
	.shut {
		background: transparent;
		color: var(--ink-soft);
	}
	.not {
		border-bottom-color: var(--brass);
		font-weight: 700;
	}
</style>
