<!-- What Heptad is told of the company: its name, how references begin, money, time and look. -->
<script lang="ts">
	import { locale } from '$lib/words';
	import { untrack } from 'svelte';
	import { api, unwrap } from '$lib/api/client';
	import { told } from '$lib/manage/words';
	import HomeCalendar from '$lib/manage/HomeCalendar.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	const o = $derived(data.organisation);
	let edited = $state(
		untrack(() => ({
			name: o.name,
			prefix: o.prefix,
			currency: o.currency,
			period: o.period || 'once',
			unit: o.unit ?? '',
			calendar: o.calendar ?? '',
			zone: o.zone || Intl.DateTimeFormat().resolvedOptions().timeZone,
			tax: { ...o.tax },
			accent: o.accent ?? '',
			emblem: o.emblem ?? '',
			signOff: o.signOff ?? '',
			lastDay: o.lastDay ?? '',
			yearStart: o.yearStart ?? 1
		}))
	);
	const wrong = (field: string) => act.problem?.errors?.find((e) => e.place === `/${field}`)?.sentence;
	const placed = $derived(act.problem?.errors?.some((e) => e.place));
	const days = $derived(o.signOffs.find((s) => s.key === edited.signOff)?.days ?? []);
	let tooLarge = $state('');

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const kept = await act.run(() =>
			unwrap(api.PUT('/api/organisation', { body: { ...told(o), ...$state.snapshot(edited) } }))
		);
		if (kept) void tell('Saved.');
	}
	function picture(file: File | undefined) {
		if (!file) return;
		tooLarge = file.size > 58_000 ? 'This picture is larger than 58 kB: make it smaller.' : '';
		if (tooLarge) return;
		const reader = new FileReader();
		reader.onload = () => (edited.emblem = String(reader.result));
		reader.readAsDataURL(file);
	}
	const monthNames = Array.from({ length: 12 }, (_, i) =>
		new Intl.DateTimeFormat(locale, { month: 'long', timeZone: 'UTC' }).format(Date.UTC(2027, i, 1))
	);
</script>

<svelte:head><title>Organisation · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<h1>Organisation</h1>
	<p class="soft">What Heptad is told of your company. It counts at once, for everybody.</p>
	<form onsubmit={keep}>
		<fieldset>
			<legend>Name</legend>
			<Field label="What it is called" problem={wrong('name')}
				><input class="input" bind:value={edited.name} maxlength="120" data-field="name" /></Field
			>
			<Field
				label="References begin with"
				hint={o.sent
					? 'Since the first request was sent it stays.'
					: `Such as ${edited.prefix || 'HG'}-10432-P. It stays from the first request on.`}
				problem={wrong('prefix')}
				><input
					class="input mono short"
					bind:value={edited.prefix}
					maxlength="6"
					readonly={o.sent}
					data-field="prefix"
				/></Field
			>
		</fieldset>
		<fieldset>
			<legend>Time</legend>
			{#if o.calendars.length}
				<Field
					label="Home calendar"
					hint="Promises and teams that name no calendar keep its working time."
					problem={wrong('calendar')}
					><select class="select" bind:value={edited.calendar} data-field="calendar">
						<option value="">none yet</option>
						{#each o.calendars as key (key)}<option>{key}</option>{/each}
					</select></Field
				>
				{#if edited.calendar}<p class="small">
						<a href="/design/calendars?key={edited.calendar}">Its hours and holidays</a>, which are read from
						an .ics file there
					</p>{/if}
			{:else}
				<HomeCalendar bind:zone={edited.zone} onmade={(key) => (edited.calendar = key)} />
			{/if}
			<Field
				label="The year of accounts begins in"
				hint="Quarters and years of what is measured are counted from it."
				problem={wrong('yearStart')}
				><select class="select" bind:value={edited.yearStart} data-field="year-start">
					{#each monthNames as name, i (name)}<option value={i + 1}>{name}</option>{/each}
				</select></Field
			>
		</fieldset>
		<fieldset>
			<legend>Money</legend>
			<Field
				label="Currency"
				hint="Of the prices a new offering begins with: three letters, such as DKK."
				problem={wrong('currency')}
				><input
					class="input mono short"
					bind:value={edited.currency}
					maxlength="3"
					data-field="currency"
				/></Field
			>
			<Field label="Prices usually fall due" problem={wrong('period')}
				><select class="select" bind:value={edited.period} data-field="period">
					<option value="once">once</option>
					<option value="month">every month</option>
					<option value="year">every year</option>
				</select></Field
			>
			<Field
				label="Prices are usually by the"
				hint="Of the prices a new item begins with, such as metre or hour."
				><input
					class="input"
					bind:value={edited.unit}
					maxlength="30"
					placeholder="piece"
					data-field="unit"
				/></Field
			>
			<Field label="Usual tax" problem={wrong('tax')}
				><span class="pair"
					><input
						class="input"
						bind:value={edited.tax.name}
						maxlength="60"
						placeholder="VAT"
						aria-label="Name of the usual tax"
						data-field="tax-name"
					/><input
						class="input mono short"
						bind:value={edited.tax.percent}
						maxlength="10"
						placeholder="25"
						aria-label="Percent of the usual tax"
						data-field="tax-percent"
					/> %</span
				></Field
			>
		</fieldset>
		<fieldset>
			<legend>Look</legend>
			<Field
				label="Accent colour"
				hint="Of what can be pressed. Without one it is that of Heptad."
				problem={wrong('accent')}
				><span class="pair"
					><input
						type="color"
						value={edited.accent || '#17576b'}
						oninput={(e) => (edited.accent = e.currentTarget.value)}
						aria-label="Pick the accent colour"
					/><input
						class="input mono short"
						bind:value={edited.accent}
						maxlength="7"
						placeholder="#17576b"
						data-field="accent"
					/></span
				></Field
			>
			<div class="emblem">
				{#if edited.emblem}<img src={edited.emblem} alt="The emblem" width="48" height="48" />{/if}
				<label class="btn plain"
					>{edited.emblem ? 'Another emblem' : 'Choose an emblem'}<input
						type="file"
						class="sr-only"
						accept="image/png,image/jpeg,image/webp,image/svg+xml"
						onchange={(e) => picture(e.currentTarget.files?.[0])}
						data-field="emblem"
					/></label
				>
				{#if edited.emblem}<button type="button" class="btn quiet" onclick={() => (edited.emblem = '')}
						>Take it away</button
					>{/if}
				{#if tooLarge || wrong('emblem')}<span class="problem small" role="status"
						>{tooLarge || wrong('emblem')}</span
					>{/if}
			</div>
		</fieldset>
		<fieldset>
			<legend>Leaving</legend>
			<Field
				label="Takes back what they have"
				hint="Sent for whoever becomes inactive and still has something, in the name of their manager."
				problem={wrong('signOff')}
				><select
					class="select"
					bind:value={edited.signOff}
					onchange={() => (edited.lastDay = days[0]?.key ?? '')}
					data-field="sign-off"
				>
					<option value="">nothing is sent</option>
					{#each o.signOffs as s (s.key)}<option value={s.key}>{s.name}</option>{/each}
				</select></Field
			>
			{#if days.length}
				<Field label="The day they leave answers" problem={wrong('lastDay')}
					><select class="select" bind:value={edited.lastDay} data-field="last-day">
						<option value="">nothing</option>
						{#each days as day (day.key)}<option value={day.key}>{day.name}</option>{/each}
					</select></Field
				>
			{/if}
		</fieldset>
		<div class="end">
			<Trouble problem={placed ? undefined : act.problem} />
			<div class="buttons"><button class="btn do" disabled={act.running} data-do="save">Save</button></div>
		</div>
	</form>
</main>

<style>
	form {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(min(20rem, 100%), 1fr));
		gap: 1.5rem 2.5rem;
		margin-top: 1.25rem;
		max-width: 60rem;
	}
	fieldset {
		display: grid;
		gap: 0.8rem;
		align-content: start;
		border-top: 1px solid var(--line);
		padding-top: 0.6rem;
	}
	legend {
		font: 600 1.0625rem var(--heading);
		padding-right: 0.75rem;
	}
	.short {
		max-width: 8rem;
	}
	.pair,
	.emblem {
		display: flex;
		gap: 0.6rem;
		align-items: center;
	}
	input[type='color'] {
		width: 2.6rem;
		height: 2.25rem;
	}
	label:focus-within {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
	.end {
		grid-column: 1 / -1;
	}
</style>
