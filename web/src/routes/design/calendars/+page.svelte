<!-- Working calendars: the usual week, the days that are not usual, and the year that comes of it. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, goto } from '$app/navigation';
	import { ChevronLeft, ChevronRight } from '@lucide/svelte';
	import { api, unwrap, Refused, type Problem, type Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Exceptions from '$lib/calendar/Exceptions.svelte';
	import Uses from '$lib/calendar/Uses.svelte';
	import Week from '$lib/calendar/Week.svelte';
	import Year from '$lib/calendar/Year.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	let trouble = $state.raw<Problem | undefined>();
	type Document = Schema['CalendarDocument'];

	let document = $state<Document | undefined>();
	let key = $state('');
	let year = $state(new Date().getFullYear());
	let seen = $state.raw<Schema['CalendarView'] | undefined>();
	let kept = $state(false);
	let fresh = $state(false);
	let name = $state('');
	let asking = 0;

	const opened = $derived(data.opened);
	/** What is kept, of the calendar that is being written. */
	let base = $state.raw('');
	const changed = $derived(fresh || JSON.stringify(document) !== base);
	const mine = $derived(fresh || Boolean(opened?.yours));
	let last = '';
	$effect(() => {
		const from = opened;
		untrack(() => {
			// what is read anew takes nothing away that is not kept yet
			if (from && (from.key !== last || !changed)) take(from);
		});
	});
	function take(from: Schema['CalendarView']) {
		document = structuredClone(from.document);
		base = JSON.stringify(from.document);
		[key, last, fresh] = [from.key, from.key, false];
	}
	beforeNavigate(({ cancel }) => {
		if (changed && !confirm('What you changed of this calendar is not saved yet. Leave it?')) cancel();
	});

	$effect(() => {
		const body = $state.snapshot(document) as Document | undefined;
		const [calendar, shown] = [key, year];
		if (!body) return;
		const pause = setTimeout(() => void look(calendar, shown, body), 200);
		return () => clearTimeout(pause);
	});
	async function look(calendar: string, shown: number, body: Document) {
		const asks = ++asking;
		const params = { path: { calendar }, query: { year: shown } };
		try {
			const got = await unwrap(
				mine
					? api.POST('/api/calendars/{calendar}/try', { params, body })
					: api.GET('/api/calendars/{calendar}', { params })
			);
			if (asks === asking) [seen, trouble] = [got, undefined];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (asks === asking) trouble = refused.problem;
		}
	}

	const zones = Intl.supportedValuesOf('timeZone');
	const found = (place: string) =>
		seen?.findings.filter((f) => f.place === place || f.place.startsWith(`${place}/`)) ?? [];

	function other(date: string) {
		if (!document) return;
		const all = (document.exceptions ??= []);
		if (!all.some((e) => e.date === date)) all.push({ date, open: [], name: '' });
		all.sort((a, b) => a.date.localeCompare(b.date));
		requestAnimationFrame(() =>
			globalThis.document.querySelector<HTMLInputElement>(`[data-exception="${date}"] input`)?.focus()
		);
	}
	async function keep() {
		if (!document) return;
		kept = false;
		const body = $state.snapshot(document) as Document;
		const got = await act.run(() =>
			unwrap(
				api.PUT('/api/calendars/{calendar}', {
					params: { path: { calendar: key }, query: { year } },
					body
				})
			)
		);
		if (!got) return;
		seen = got;
		if (got.findings.some((f) => f.severity === 'error')) return;
		[base, fresh] = [JSON.stringify(body), false];
		await goto(`/design/calendars?key=${key}`, { keepFocus: true, noScroll: true, invalidateAll: true });
		kept = true;
	}
	function begin() {
		const from = document;
		key = name
			.toLowerCase()
			.normalize('NFD')
			.replace(/[^a-z0-9]+/g, '-')
			.replace(/^-|-$/g, '');
		document = {
			format: 'heptad/calendar/1',
			name,
			zone: from?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
			week: structuredClone($state.snapshot(from?.week) ?? {}) as Document['week'],
			exceptions: []
		};
		[fresh, name, kept] = [true, '', false];
	}
	async function holidays(file: string) {
		if (!document) return;
		const body = { document: $state.snapshot(document) as Document, file };
		try {
			const got = await unwrap(
				api.POST('/api/calendars/{calendar}/holidays', {
					params: { path: { calendar: key }, query: { year } },
					body
				})
			);
			[document, trouble] = [got.document, undefined];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			trouble = refused.problem;
		}
	}
	const uses = $derived(fresh ? undefined : opened?.uses);
</script>

<svelte:head><title>Calendars · Design · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<p class="eyebrow"><a href="/design">Design</a></p>
	<h1>Working calendars</h1>
	<div class="desk">
		<nav aria-label="Calendars">
			<ul>
				{#each data.calendars as calendar (calendar.key)}
					<li>
						<a
							href="/design/calendars?key={calendar.key}"
							aria-current={calendar.key === key && !fresh ? 'page' : undefined}>{calendar.name}</a
						>
					</li>
				{/each}
			</ul>
			<form
				onsubmit={(e) => {
					e.preventDefault();
					begin();
				}}
			>
				<Field label="Another calendar" hint="It begins with the week shown beside.">
					<input class="input" bind:value={name} required maxlength="60" data-field="new-calendar" />
				</Field>
				<button class="btn plain">Begin</button>
			</form>
		</nav>
		{#if document}
			<div class="sheet">
				<div class="head">
					<Field label="Name"
						><input class="input" bind:value={document.name} maxlength="120" readonly={!mine} /></Field
					>
					<Field label="Time zone"
						><input
							class="input"
							list="zones"
							bind:value={document.zone}
							maxlength="60"
							readonly={!mine}
						/></Field
					>
					<datalist id="zones"
						>{#each zones as zone (zone)}<option value={zone}></option>{/each}</datalist
					>
					<div class="keep">
						{#if mine}<button class="btn do" disabled={!changed || act.running} onclick={keep} data-do="keep"
								>Save the calendar</button
							>{:else}<span class="soft small"
								>{opened?.keeper
									? `${opened.keeper} and administrators change it.`
									: 'Administrators change it.'}</span
							>{/if}
						{#if changed}<button class="btn quiet" onclick={() => opened && take(opened)}>As before</button
							>{:else if kept}<span role="status" class="soft small"
								>Saved: every clock and forecast uses it from now on.</span
							>{/if}
					</div>
				</div>
				{#if !fresh && opened?.changedBy && opened.changedAt}<p class="soft small">
						Changed last by {opened.changedBy}, <When time={opened.changedAt} />.
					</p>{/if}
				<Uses {uses} {changed} />
				<Trouble problem={act.problem ?? trouble} />
				{#each seen?.findings.filter((f) => !/^\/(week|exceptions)/.test(f.place)) ?? [] as f (f.place + f.code)}
					<p class="problem small">{f.sentence} {f.mend ?? ''}</p>
				{/each}
				<div class="glance">
					<h2>
						<button class="btn quiet" onclick={() => year--} aria-label="The year before"
							><ChevronLeft size={18} aria-hidden="true" /></button
						>
						{year}
						<button class="btn quiet" onclick={() => year++} aria-label="The year after"
							><ChevronRight size={18} aria-hidden="true" /></button
						>
					</h2>
					{#if seen?.days.length}<Year {year} days={seen.days} onday={mine ? other : undefined} />{:else}<p
							class="soft"
						>
							The year shows here as soon as the hours can be read.
						</p>{/if}
				</div>
				<fieldset class="hours" disabled={!mine}>
					<Week bind:document {found} />
					<Exceptions bind:document {year} {found} onadd={other} onholidays={holidays} />
				</fieldset>
			</div>
		{/if}
	</div>
</main>

<style>
	.desk {
		display: grid;
		grid-template-columns: 13rem minmax(0, 1fr);
		gap: 1.5rem;
		margin-top: 0.8rem;
	}
	nav {
		display: grid;
		gap: 1rem;
		align-content: start;
	}
	nav li a {
		display: block;
		padding: 0.3rem 0.6rem;
		border-left: 4px solid transparent;
		color: var(--ink);
		text-decoration: none;
	}
	nav li a[aria-current] {
		border-left-color: var(--sound);
		background: var(--sound-wash);
	}
	nav form {
		display: grid;
		gap: 0.4rem;
		justify-items: start;
	}
	.sheet {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 0.6rem;
		align-content: start;
		min-width: 0;
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		gap: 0.75rem;
		align-items: end;
	}
	.keep {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.glance h2 {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
	.hours {
		display: grid;
		grid-template-columns: 18rem minmax(0, 1fr);
		gap: 1.5rem;
	}
	@media (max-width: 900px) {
		.desk,
		.hours {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
