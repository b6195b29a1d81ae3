<!-- Puts a task, or a whole request, on one's own list for a day, or into a calendar. -->
<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import TimeField from './TimeField.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { date } from '$lib/words';
	import { instantOf } from '$lib/zone';

	type Props = { request: string; task?: string; asker?: string; due?: boolean; wait?: boolean };
	let { request, task, asker, due = false, wait = false }: Props = $props();
	const act = new Act();
	const today = new Date().toLocaleDateString('sv-SE');
	let day = $state(today);
	let meeting = $state({ at: '', minutes: 30, place: '' });
	const query = (of: string, more: Record<string, string> = {}) =>
		`/api/tasks/${request}/${task}/entry?${new URLSearchParams({ of, ...more })}`;
	async function put() {
		const done = await act.run(() =>
			unwrap(api.PUT('/api/own-list', { body: { request, task: task ?? '', day } }))
		);
		if (done)
			void tell(`On your list for ${date(day)}.`, () =>
				unwrap(
					api.DELETE('/api/own-list/{request}', {
						params: { path: { request }, query: { task: task ?? '' } }
					})
				)
			);
	}
</script>

<details class="small" data-my-list>
	<summary>My list and calendar</summary>
	<div class="inner">
		<div class="row">
			<Field label="On my list for" several>
				<DateField
					label="On my list for"
					value={day}
					control={{ 'data-field': 'list-day' }}
					onday={(d) => (day = d ?? '')}
				/>
			</Field>
			<button class="btn plain" onclick={put} disabled={act.running || !day} data-do="to-list"
				>Put on my list</button
			>
			<a href="/mine">See my list</a>
		</div>
		<Trouble problem={act.problem} />
		{#if task}
			{#if due}<p>
					<a href={query('due')} download="due.ics" data-do="entry-due">When it is due, for my calendar</a>
				</p>{/if}
			{#if wait}<p>
					<a href={query('wait')} download="wait.ics">The end of the wait, for my calendar</a>
				</p>{/if}
			<div class="row">
				<Field label="An appointment with {asker}" several>
					<TimeField
						value={meeting.at}
						label="An appointment with {asker}"
						control={{ 'data-field': 'meeting-at' }}
						onmoment={(value) => (meeting.at = value)}
					/>
				</Field>
				<Field label="Minutes">
					<input class="input" type="number" min="5" max="1440" bind:value={meeting.minutes} />
				</Field>
				<Field label="Where"><input class="input" bind:value={meeting.place} maxlength="200" /></Field>
				{#if meeting.at}<a
						class="btn plain"
						href={query('meeting', {
							at: instantOf(meeting.at).toISOString(),
							minutes: String(meeting.minutes),
							place: meeting.place
						})}
						download="meeting.ics"
						data-do="entry-meeting">For my calendar</a
					>{/if}
			</div>
		{/if}
	</div>
</details>

<style>
	details {
		margin-top: 1rem;
	}
	.inner {
		padding: 0.5rem 0 0 1rem;
		display: grid;
		gap: 0.6rem;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		align-items: end;
	}
</style>
