<!-- Design: the portfolio of services and their offerings; a new one begins empty, as a copy or from the set. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import MoveCatalog from '$lib/design/MoveCatalog.svelte';
	import ServiceSheet from '$lib/design/ServiceSheet.svelte';
	import NewOffering from '$lib/design/NewOffering.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Hanging from '$lib/ui/Hanging.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import More from '$lib/ui/More.svelte';
	import { Paged } from '$lib/paged.svelte';
	import { ask } from '$lib/query';
	import { at } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const portfolio = $derived(data.portfolio);
	const offerings = new Paged(
		() => data.offerings,
		(after) =>
			unwrap(api.GET('/api/portfolio/offerings', { params: { query: { words: data.words, after } } }))
	);
	let words = $state(untrack(() => data.words));
	let pause: ReturnType<typeof setTimeout>;
	function typed() {
		clearTimeout(pause);
		pause = setTimeout(() => void ask(page.url, { words: words.trim() }, true), 150);
	}
	/** The service or area that is changed, nothing for a service that is made new. */
	type Sheet = { service?: Schema['ServiceView']; area?: Schema['AreaView']; teams: Schema['Named'][] };
	let sheet = $state.raw<Sheet | undefined>();
	const change = async (of: Omit<Sheet, 'teams'>) => {
		const materials = await act.ask(() => unwrap(api.GET('/api/design')));
		if (materials) sheet = { ...of, teams: materials.teams };
	};
	/** A service that is to be found no more, until somebody says yes. */
	let leaving = $state.raw<{ service: Schema['ServiceView']; place: Place } | undefined>();
	type Place = Schema['ServiceView']['place'];

	const places = { intended: 'intended', offered: 'offered', ended: 'ended' } as const;
	/** Services come in the order of their offerings: those after the last that was read come with it. */
	const read = $derived(
		offerings.next
			? portfolio.services.findIndex((s) => s.key === offerings.entries.at(-1)?.service) + 1
			: portfolio.services.length
	);
	const services = $derived(
		portfolio.services
			.slice(0, read)
			.map((one) => ({ one, offerings: offerings.entries.filter((o) => o.service === one.key) }))
			.filter((s) => s.offerings.length > 0 || !data.words)
	);

	const areas = $derived(
		portfolio.areas
			.map((area) => ({ area, services: services.filter((s) => s.one.area === area.name) }))
			.filter((a) => a.services.length > 0 || (a.area.mine && !data.words && !offerings.next))
	);

	const setPlace = (service: string, place: Place) =>
		act.run(() =>
			unwrap(api.PUT('/api/services/{service}/place', { params: { path: { service } }, body: { place } }))
		);
	function move(select: HTMLSelectElement, service: Schema['ServiceView']) {
		const place = select.value as Place;
		if (service.place !== 'offered') return void setPlace(service.key, place);
		select.value = service.place;
		leaving = { service, place };
	}
	async function leave() {
		if (!leaving) return;
		await setPlace(leaving.service.key, leaving.place);
		leaving = undefined;
	}
</script>

<svelte:head><title>Design · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<section>
		<div class="top">
			<h1>Your services</h1>
			<input
				class="input"
				bind:value={words}
				oninput={typed}
				maxlength="100"
				placeholder="Find an offering"
				aria-label="Find an offering"
				data-field="find"
			/>
			<a href="/design/bundles">Bundles</a>
			<a href="/design/texts">Texts of messages</a>
			<a href="/design/calendars">Working calendars</a>
		</div>
		<Trouble problem={act.problem} />
		{#each areas as { area, services } (area.name)}
			<h2 class="area">
				{#if area.picture}<img src={area.picture} alt="" />{/if}{area.name}
				{#if area.place !== 'offered'}<span class="soft small">{area.place}: nobody finds what is in it</span
					>{/if}
				{#if area.mine}<button
						class="btn quiet small"
						onclick={() => void change({ area })}
						data-do="change-area">Change<span class="sr-only">&nbsp;{area.name}</span></button
					>{/if}
			</h2>
			{#each services as { one, offerings } (one.key)}
				<div class="service" data-service={one.key}>
					<h3>{one.name}</h3>
					<label class="small"
						>is <select
							class="select"
							value={one.place}
							aria-label="Place of {one.name} in the portfolio"
							onchange={(e) => move(e.currentTarget, one)}
						>
							{#each Object.entries(places) as [key, text] (key)}<option value={key}>{text}</option>{/each}
						</select></label
					>
					<p class="soft small">
						{one.text} Owned by {one.owner}{#if one.editors.length}, with {one.editors
								.map((e) => e.name)
								.join(', ')}{/if}, home team {one.home}.{#if one.second}
							Publishing needs two of you.{/if}
						{#if one.mine}<button
								class="btn quiet small"
								onclick={() => void change({ service: one })}
								data-do="change-{one.key}">Change<span class="sr-only">&nbsp;{one.name}</span></button
							>{/if}
					</p>
				</div>
				<ul class="offerings">
					{#each offerings as offering (offering.key)}
						<li>
							<a href="/design/{offering.key}/purpose">{offering.name || 'Without a name'}</a>
							<span class="soft">
								{#if offering.ended}ended{:else if offering.current}on Ask, version {offering.current}{/if}{#if (offering.current || offering.ended) && offering.draft}<span
										>,&nbsp;</span
									>{/if}{#if offering.draft}draft of version {offering.draft}{#if offering.publishAt},
										publishes itself {at(offering.publishAt)}{/if}{/if}{#if offering.origin !== 'own'}<span
										class="small"
										data-origin={offering.origin}
										>; {offering.origin === 'supplied' ? 'as supplied' : 'supplied, changed'}{offering.newer
											? '; Heptad brings another now'
											: ''}</span
									>{/if}
							</span>
							<span class="soft small"
								>{#if offering.rated}<span class="rated" data-rated={offering.rated}
										>{(offering.mean ?? 0).toFixed(1)} of 5, from {offering.rated}</span
									>{/if}<When time={offering.changedAt} /></span
							>
						</li>
					{:else}
						<li class="soft">Nothing is offered here yet.</li>
					{/each}
				</ul>
			{:else}
				<p class="soft">No service is in it yet. Make the first one.</p>
			{/each}
		{:else}
			<p class="soft">No offering of yours goes by those words.</p>
		{/each}
		{#if offerings.next}<More more={offerings.more} />{/if}
	</section>
	<div class="beside">
		<NewOffering {portfolio} />
		<button class="btn plain" onclick={() => void change({})} data-do="new-service">A new service</button>
		<MoveCatalog />
	</div>
</main>
{#if leaving}
	<Dialog
		bind:open={() => true, (open) => open || (leaving = undefined)}
		title="{leaving.service.name} is to be {leaving.place}"
		name="leaving"
	>
		<p>Nobody finds what is in it any more. It can be offered again.</p>
		<Hanging service={leaving.service.key} />
		<div class="buttons">
			<button class="btn do" onclick={leave} disabled={act.running} data-do="leave-place">Yes, do it</button>
			<button class="btn plain" onclick={() => (leaving = undefined)}>Leave it offered</button>
		</div>
	</Dialog>
{/if}
{#if sheet}
	<ServiceSheet {portfolio} {...sheet} onclose={() => (sheet = undefined)} />
{/if}

<style>
	main {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 20rem;
		gap: 3rem;
		align-content: start;
	}
	.area {
		display: flex;
		gap: 0.6rem;
		align-items: baseline;
		margin-top: 1.5rem;
	}
	.area img {
		height: 1.6rem;
		align-self: center;
	}
	.top {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.4rem 1rem;
	}
	.top h1 {
		width: 100%;
	}
	.top .input {
		max-width: 16rem;
	}
	.service {
		margin-top: 0.9rem;
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		align-items: end;
	}
	.service label {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
	.service p {
		grid-column: 1 / -1;
	}
	.service .select {
		width: auto;
		min-height: 1.7rem;
		padding-block: 0;
		font-size: 0.8125rem;
	}
	.beside {
		display: grid;
		justify-items: start;
		align-content: start;
		gap: 2rem;
	}
	.offerings {
		border-top: 2px solid var(--ink);
		margin-top: 0.3rem;
	}
	.offerings li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 15rem 7rem;
		gap: 1rem;
		padding: 0.5rem 0;
		border-bottom: 1px solid var(--line);
		align-items: baseline;
	}
	.rated {
		display: block;
	}
	.offerings a {
		font-weight: 600;
	}
	@media (max-width: 900px) {
		main {
			grid-template-columns: minmax(0, 1fr);
			gap: 1.5rem;
		}
		.offerings li {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
