<!-- The usual week of a calendar: the open hours of each weekday. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { split } from '$lib/words';
	type Props = { document: Schema['CalendarDocument']; found: (place: string) => Schema['FindingFinding'][] };
	let { document = $bindable(), found }: Props = $props();

	const days = [
		['mon', 'Monday'],
		['tue', 'Tuesday'],
		['wed', 'Wednesday'],
		['thu', 'Thursday'],
		['fri', 'Friday'],
		['sat', 'Saturday'],
		['sun', 'Sunday']
	] as const;
</script>

<section>
	<h2>The usual week</h2>
	{#each days as [day, words] (day)}
		<label class="day"
			><span>{words}</span>
			<input
				class="input"
				value={(document.week[day] ?? []).join(', ')}
				placeholder="closed"
				onchange={(e) => {
					const open = split(e.currentTarget.value);
					if (open.length) document.week[day] = open;
					else delete document.week[day];
				}}
				data-field={day}
			/></label
		>
		{#each found(`/week/${day}`) as f (f.place + f.code)}<p class="problem small">
				{f.sentence}
				{f.mend ?? ''}
			</p>{/each}
	{/each}
	<p class="hint">Such as 08:30-12:30, 13:30-17:30. One that ends at 24:00 or beyond runs on.</p>
</section>

<style>
	.day {
		display: grid;
		grid-template-columns: 6rem minmax(0, 1fr);
		align-items: center;
	}
	section {
		display: grid;
		gap: 0.35rem;
		align-content: start;
	}
</style>
