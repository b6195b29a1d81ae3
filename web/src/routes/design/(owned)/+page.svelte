<!-- Design: the portfolio of services and their offerings; a new one begins empty, as a copy or from the set. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import MoveCatalog from '$lib/design/MoveCatalog.svelte';
	import ServiceSheet from '$lib/design/ServiceSheet.svelte';
	import NewOffering from '$lib/design/NewOffering.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Hanging from '$lib/ui/Hanging.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { at } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const portfolio = $derived(data.portfolio);
	let words = $state('');
	/** The service that is changed, or that a new one is made. */
	let changed = $state.raw<Schema['ServiceView'] | 'new' | undefined>();
	let changedArea = $state.raw<Schema['AreaView'] | undefined>();
	/** A service that is to be found no more, until somebody says yes. */
	let leaving = $state.raw<{ service: Schema['ServiceView']; place: Place } | undefined>();
	type Place = Schema['ServiceView']['place'];

	const places = { intended: 'intended', offered: 'offered', ended: 'ended' } as const;
	const hit = (o: Schema['OfferingLine']) =>
		words
			.toLowerCase()
			.split(/\s+/)
			.every((w) => `${o.name} ${o.key}`.toLowerCase().includes(w));
	const services = $derived(
		portfolio.services
			.map((one) => ({ one, offerings: portfolio.offerings.filter((o) => o.service === one.key && hit(o)) }))
			.filter((s) => s.offerings.length > 0 || !words)
	);

	const areas = $derived(
		portfolio.areas
			.map((area) => ({ area, services: services.filter((s) => s.one.area === area.name) }))
			.filter((a) => a.services.length > 0 || (a.area.mine && !words))
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
						onclick={() => (changedArea = area)}
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
								onclick={() => (changed = one)}
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
								>{#if offering.rated}<span data-rated={offering.rated}
										>{(offering.mean ?? 0).toFixed(1)} of 5, from {offering.rated} ·
									</span>{/if}<When time={offering.changedAt} /></span
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
	</section>
	<div class="beside">
		<NewOffering {portfolio} />
		<button class="btn plain" onclick={() => (changed = 'new')} data-do="new-service">A new service</button>
		<MoveCatalog {portfolio} />
	</div>
</main>
{#if changedArea}
	<ServiceSheet {portfolio} area={changedArea} onclose={() => (changedArea = undefined)} />
{/if}
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
{#if changed}
	<ServiceSheet
		{portfolio}
		service={changed === 'new' ? undefined : changed}
		onclose={() => (changed = undefined)}
	/>
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
