<!-- When something is likely to be done, or why nobody knows. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { date, list, minutes } from '$lib/words';
	import When from './When.svelte';
	let { forecast }: { forecast: Schema['ForecastView'] } = $props();
	const late = $derived(
		!forecast.tooLate
			? ''
			: forecast.day
				? `too late for ${date(forecast.day)}`
				: `${minutes(-(forecast.slack ?? 0))} too late`
	);
</script>

{#if forecast.likely}likely <When time={forecast.likely} absolute />{#if late}, <b class="late">{late}</b
		>{/if}{:else}unknown until {list.format(forecast.stuckOn ?? [])} goes on{/if}

<style>
	.late {
		color: var(--buoy-text);
	}
</style>
