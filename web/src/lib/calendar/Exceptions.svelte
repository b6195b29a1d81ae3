<!-- The days of a calendar that are not usual, typed or read from an iCalendar file. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import DateField from '$lib/ui/DateField.svelte';
	import { split } from '$lib/words';
	type Exception = Schema['CalendarException'];
	type Props = {
		document: Schema['CalendarDocument'];
		year: number;
		found: (place: string) => Schema['FindingFinding'][];
		onadd: (date: string) => void;
		onholidays: (file: string) => void;
	};
	let { document = $bindable(), year, found, onadd, onholidays }: Props = $props();
	const inYear = (e: Exception) => e.repeat || e.date.startsWith(String(year));
	let all = $state(false);
	const shown = $derived((document.exceptions ?? []).filter((e) => all || inYear(e)));
	async function read(e: Event) {
		const field = e.currentTarget as HTMLInputElement;
		const file = await field.files?.[0]?.text();
		field.value = '';
		if (file) onholidays(file);
	}
</script>

<section>
	<h2>Days that are not usual</h2>
	{#each shown as e (e)}
		{@const i = (document.exceptions ?? []).indexOf(e)}
		<div class="other" data-exception={e.date}>
			<input class="input" bind:value={e.name} placeholder="Name" aria-label="Name of {e.date}" />
			<DateField value={e.date} label="Date" onday={(day) => day && (e.date = day)} />
			<input
				class="input"
				value={e.open.join(', ')}
				placeholder="closed"
				aria-label="Open on {e.date}"
				onchange={(ev) => (e.open = split(ev.currentTarget.value))}
			/>
			<label class="small tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={Boolean(e.repeat)}
					onchange={(ev) => (e.repeat = ev.currentTarget.checked ? 'FREQ=YEARLY' : undefined)}
				/> each year</label
			>
			<button class="btn quiet small" onclick={() => document.exceptions?.splice(i, 1)}
				>Remove<span class="sr-only">&nbsp;{e.name || e.date}</span></button
			>
		</div>
		{#each found(`/exceptions/${i}`) as f (f.place + f.code)}<p class="problem small">
				{f.sentence}
				{f.mend ?? ''}
			</p>{/each}
	{:else}
		<p class="soft">None in {year}.</p>
	{/each}
	<p class="more">
		<button class="btn plain" onclick={() => onadd(`${year}-01-01`)}>Add a day</button>
		<label class="btn quiet"
			>Read holidays from an iCalendar file<input
				type="file"
				class="sr-only"
				accept=".ics,text/calendar"
				onchange={read}
				data-field="holidays"
			/></label
		>
		<label class="small tick"
			><input type="checkbox" class="checkbox" bind:checked={all} /> of all years</label
		>
	</p>
</section>

<style>
	.other {
		display: grid;
		grid-template-columns: minmax(6rem, 1fr) 9.5rem minmax(6rem, 9rem) auto auto;
		gap: 0.4rem;
		align-items: center;
	}
	.more {
		display: flex;
		flex-wrap: wrap;
		gap: 0.75rem;
		align-items: center;
	}
	section {
		display: grid;
		gap: 0.35rem;
		align-content: start;
	}
	@media (max-width: 900px) {
		.other {
			grid-template-columns: 1fr 1fr;
		}
	}
</style>
