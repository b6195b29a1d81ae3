<!-- The first working calendar: a zone and usual hours, so that promises can be counted. -->
<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { zone = $bindable(), onmade }: { zone: string; onmade: (key: string) => void } = $props();
	const act = new Act();
	const zones = Intl.supportedValuesOf('timeZone');
	let [from, until] = $state(['09:00', '17:00']);

	async function make() {
		const week = Object.fromEntries(
			['mon', 'tue', 'wed', 'thu', 'fri'].map((day) => [day, [`${from}-${until}`]])
		);
		const kept = await act.run(() =>
			unwrap(
				api.PUT('/api/calendars/{calendar}', {
					params: { path: { calendar: 'home' }, query: { year: new Date().getFullYear() } },
					body: { format: 'heptad/calendar/1', name: 'Home', zone, week, exceptions: [] }
				})
			)
		);
		if (kept) onmade('home');
	}
</script>

<p>
	There is no working calendar yet. Promises are counted in working time, so the first one is the home
	calendar.
</p>
<Field label="Time zone"
	><input class="input" list="zones" bind:value={zone} data-field="zone" />
	<datalist id="zones"
		>{#each zones as z (z)}<option value={z}></option>{/each}</datalist
	></Field
>
<div class="hours">
	<Field label="Monday to Friday, from"
		><input class="input mono" bind:value={from} maxlength="5" data-field="from" /></Field
	>
	<Field label="until"><input class="input mono" bind:value={until} maxlength="5" data-field="until" /></Field
	>
</div>
<Trouble problem={act.problem} />
<div class="buttons">
	<button type="button" class="btn plain" onclick={make} disabled={act.running} data-do="make-calendar"
		>Make the home calendar</button
	>
</div>

<style>
	.hours {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.75rem;
	}
</style>
