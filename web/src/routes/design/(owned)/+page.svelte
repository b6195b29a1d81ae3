<!-- Design: the portfolio of services and their offerings; a new one begins empty, as a copy or from the set. -->
<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { api, asked, type Schema } from '$lib/api/client';
	import PersonPicker from '$lib/form/PersonPicker.svelte';
	import { lookUpAnybody, setTools } from '$lib/form/tools';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { at } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const portfolio = $derived(data.portfolio);
	let name = $state('');
	// svelte-ignore state_referenced_locally
	let service = $state(data.portfolio.services[0]?.key ?? '');
	let beginning = $state('');
	let words = $state('');
	let incoming = $state.raw<Schema['Incoming'][] | undefined>();
	let file = $state.raw<File | undefined>();
	/** Services that are new here, with who is to own them and the team that is home to them. */
	let fresh = $state<Schema['NewService'][]>([]);
	setTools(lookUpAnybody);
	let publish = $state(false);
	let brought = $state(false);

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

	async function create() {
		const [sort, key] = beginning.split(':');
		const from = sort === 'copy' ? { copy: key } : sort === 'starter' ? { starter: key } : {};
		const made = await act.run(() => asked(api.POST('/api/design', { body: { name, service, ...from } })));
		if (made) await goto(`/design/${made.document.key}/purpose`);
	}
	const setPlace = (service: string, place: Schema['ServiceView']['place']) =>
		act.run(() =>
			asked(api.PUT('/api/services/{service}/place', { params: { path: { service } }, body: { place } }))
		);
	async function bring(preview: boolean) {
		const from = file;
		if (!from) return;
		const got = await act.run(() =>
			asked(
				api.POST('/api/catalog', {
					params: {
						query: {
							preview,
							publish,
							home: fresh.filter((s) => s.home).map((s) => `${s.key}:${s.home}`),
							owner: fresh.filter((s) => s.owner).map((s) => `${s.key}:${s.owner}`)
						}
					},
					body: from as unknown as string,
					bodySerializer: (b) => b as unknown as File,
					headers: { 'Content-Type': 'application/octet-stream' }
				})
			)
		);
		incoming = got?.entries;
		if (got && preview) fresh = got.services.map((s) => fresh.find((known) => known.key === s.key) ?? s);
		brought = !preview && Boolean(got);
		if (brought) await invalidateAll();
	}
	function read(e: Event) {
		const field = e.currentTarget as HTMLInputElement;
		file = field.files?.[0];
		fresh = [];
		field.value = '';
		void bring(true);
	}
	const does = { new: 'New', changed: 'Changes', same: 'The same', refused: 'Left out' } as const;
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
			<a href="/design/texts">Texts of messages</a>
			<a href="/design/calendars">Working calendars</a>
		</div>
		{#each services as { one, offerings } (one.key)}
			<div class="service" data-service={one.key}>
				<h2>{one.name} <span class="soft small">{one.area}</span></h2>
				<label class="small"
					>is <select
						class="select"
						value={one.place}
						aria-label="Place of {one.name} in the portfolio"
						onchange={(e) => void setPlace(one.key, e.currentTarget.value as Schema['ServiceView']['place'])}
					>
						{#each Object.entries(places) as [key, text] (key)}<option value={key}>{text}</option>{/each}
					</select></label
				>
				<p class="soft small">{one.text} Owned by {one.owner}, home team {one.home}.</p>
			</div>
			<ul class="offerings">
				{#each offerings as offering (offering.key)}
					<li>
						<a href="/design/{offering.key}/purpose">{offering.name || 'Without a name'}</a>
						<span class="soft">
							{#if offering.ended}ended{:else if offering.current}on Ask, version {offering.current}{/if}{#if (offering.current || offering.ended) && offering.draft}<span
									>,&nbsp;</span
								>{/if}{#if offering.draft}draft of version {offering.draft}{#if offering.publishAt}, publishes
									itself {at(offering.publishAt)}{/if}{/if}
						</span>
						<span class="soft small"><When time={offering.changedAt} /></span>
					</li>
				{:else}
					<li class="soft">Nothing is offered here yet.</li>
				{/each}
			</ul>
		{:else}
			<p class="soft">No offering of yours goes by those words.</p>
		{/each}
	</section>
	<div class="beside">
		<form
			onsubmit={(e) => {
				e.preventDefault();
				void create();
			}}
		>
			<h2>A new offering</h2>
			<label
				>What can people ask for?<input
					class="input"
					bind:value={name}
					maxlength="120"
					required
					data-field="new-offering"
				/></label
			>
			<label
				>Service
				<select class="select" bind:value={service} data-field="service">
					{#each portfolio.services as one (one.key)}<option value={one.key}>{one.area}: {one.name}</option
						>{/each}
				</select>
			</label>
			<label
				>Begins
				<select class="select" bind:value={beginning} data-field="beginning">
					<option value="">empty</option>
					<optgroup label="From the starter set">
						{#each portfolio.starters as one (one.key)}<option value="starter:{one.key}">{one.name}</option
							>{/each}
					</optgroup>
					<optgroup label="As a copy of">
						{#each portfolio.offerings as one (one.key)}<option value="copy:{one.key}">{one.name}</option
							>{/each}
					</optgroup>
				</select>
			</label>
			<Trouble problem={act.problem} />
			<button class="btn do" disabled={act.running || !name.trim()}>Begin</button>
			<p class="hint">Nobody sees it before you publish.</p>
		</form>
		<section class="move" aria-label="Moving the catalog">
			<h2>Move the catalog</h2>
			<p class="hint">
				From a trial to here, or from here: services, shared questions and offerings in one file.
			</p>
			<p><a href="/api/catalog" download="catalog.json">Export all of yours</a></p>
			<input id="catalog-file" class="sr-only" type="file" accept=".json,.yaml,.yml" onchange={read} />
			<label class="btn plain" for="catalog-file">Import …</label>
			{#each fresh as one (one.key)}
				<fieldset data-new-service={one.key}>
					<legend class="caption">{one.area}: {one.name} is a new service</legend>
					<label
						>Its home team
						<select
							class="select"
							value={one.home ?? ''}
							onchange={(e) => {
								one.home = e.currentTarget.value;
								void bring(true);
							}}
							data-field="home"
						>
							<option value="" disabled>choose</option>
							{#each portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
						</select></label
					>
					<label for="owner-{one.key}">Its owner</label>
					<PersonPicker
						question=""
						name={one.ownerName ?? ''}
						control={{ id: `owner-${one.key}`, placeholder: 'you', 'data-field': 'owner' }}
						onpick={(person) => {
							[one.owner, one.ownerName] = [person?.login, person?.name];
							void bring(true);
						}}
					/>
				</fieldset>
			{/each}
			{#if incoming}
				<ul class="incoming" data-incoming={incoming.length}>
					{#each incoming as one (one.key)}
						<li>
							<strong>{does[one.does]}:</strong>
							{one.name}
							{#if one.ends}<span class="soft">It ends, as it has where it comes from.</span>{/if}
							{#if one.draft}<span class="soft"
									>It has ended where it comes from: it comes as a draft that nobody can ask for.</span
								>{/if}
							{#if one.why}<span class="problem">{one.why}</span>{/if}
							{#if one.errors}<span class="problem">{one.errors} to mend</span>{/if}
							{#if one.changes.length}
								<details>
									<summary class="small">{one.changes.length} differences</summary>
									<ul class="small">
										{#each one.changes as change, i (i)}<li>{change.sentence}</li>{/each}
									</ul>
								</details>
							{/if}
						</li>
					{/each}
				</ul>
				{#if brought}
					<p role="status" data-brought>Brought in. What is not published yet is a draft.</p>
				{:else}
					<label class="tick"
						><input type="checkbox" class="checkbox" bind:checked={publish} /> publish what has nothing to mend
						or consider</label
					>
					<button class="btn do" disabled={act.running} onclick={() => void bring(false)}>Bring it in</button>
				{/if}
			{/if}
		</section>
	</div>
</main>

<style>
	main {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 20rem;
		gap: 3rem;
		align-content: start;
	}
	h2 {
		margin-top: 1.25rem;
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
	.beside,
	.move {
		display: grid;
		gap: 0.75rem;
		justify-items: start;
	}
	.beside {
		gap: 2rem;
	}
	.move h2 {
		margin: 0;
	}
	.sr-only:focus-visible + .btn {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
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
	form {
		background: var(--panel);
		padding: 1rem 1.1rem 1.25rem;
		border-top: 3px solid var(--ink);
		display: grid;
		gap: 0.75rem;
		justify-items: start;
	}
	form h2 {
		margin: 0;
	}
	form label .input,
	form label .select {
		font-weight: 400;
	}
	form label {
		display: grid;
		gap: 0.2rem;
		width: 100%;
		font-weight: 600;
		font-size: 0.875rem;
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
