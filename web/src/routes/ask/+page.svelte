<!-- Ask: one line to say what is needed; below, what waits for me and the whole catalog. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, goto } from '$app/navigation';
	import Dial from '$lib/ui/Dial.svelte';
	import { list } from '$lib/words';

	let { data } = $props();
	let words = $state(untrack(() => data.words));
	$effect(() => {
		// Another address changes what stands in the line, but never under somebody's fingers.
		if (document.activeElement !== field) words = data.words;
	});
	let field = $state<HTMLInputElement>();
	let pause: ReturnType<typeof setTimeout> | undefined;

	const look = () =>
		goto(words.trim() ? `/ask?words=${encodeURIComponent(words.trim())}` : '/ask', {
			keepFocus: true,
			replaceState: true,
			noScroll: true
		});
	beforeNavigate(() => clearTimeout(pause)); // a click is meant, whatever was typed before
	function typed() {
		clearTimeout(pause);
		pause = setTimeout(look, 150);
	}
	const broken = $derived(data.found.filter((o) => o.door === 'broken'));
	const wanted = $derived(data.found.filter((o) => o.door !== 'broken'));
	const unique = (names: string[]) => [...new Set(names)];
	const areas = $derived(
		unique(wanted.map((o) => o.area)).map((area) => ({
			area,
			services: unique(wanted.filter((o) => o.area === area).map((o) => o.service)).map((service) => ({
				service,
				offerings: wanted.filter((o) => o.service === service)
			}))
		}))
	);

	function enter(e: KeyboardEvent) {
		const links = [...document.querySelectorAll<HTMLAnchorElement>('[data-result]')];
		if (e.key === 'ArrowDown' && links[0]) {
			e.preventDefault();
			links[0].focus();
		}
	}
	/** Looks for the words; what they have already found is opened. */
	function send() {
		const first = document.querySelector<HTMLAnchorElement>('[data-result]');
		void (first && data.words && data.words === words.trim() ? goto(first.href) : look());
	}
	function walk(e: KeyboardEvent) {
		const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
		const links = [...document.querySelectorAll<HTMLAnchorElement>('[data-result]')];
		const here = links.indexOf(e.target as HTMLAnchorElement);
		if (!step || here < 0) return;
		e.preventDefault();
		(links[here + step] ?? (step < 0 ? field : undefined))?.focus();
	}
</script>

<svelte:head><title>Ask · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<form
		class="wish"
		role="search"
		onsubmit={(e) => {
			e.preventDefault();
			send();
		}}
	>
		<label for="wish"><h1>What do you need?</h1></label>
		<!-- svelte-ignore a11y_autofocus -->
		<input
			id="wish"
			class="input"
			bind:this={field}
			bind:value={words}
			oninput={typed}
			onkeydown={enter}
			autocomplete="off"
			autofocus
			maxlength="200"
			placeholder="Say it in your own words: a tablet for the bridge, my badge is lost"
		/>
	</form>

	{#if data.waiting.length && !data.words}
		<section aria-labelledby="waiting">
			<h2 id="waiting">Waits for you</h2>
			<ul class="waiting">
				{#each data.waiting as request (request.id)}
					<li>
						<a href={request.status === 'draft' ? `/ask/${request.offering}` : `/follow/${request.id}`}>
							<Dial stages={request.stages} yours size={30} />
							<span
								><strong>{request.title}</strong> <span class="mono soft">{request.reference}</span><br
								/><span class="do"
									>{request.status === 'draft' ? 'Finish and send' : 'Confirm that it is done'}</span
								></span
							>
						</a>
					</li>
				{/each}
			</ul>
		</section>
	{/if}

	{#if !data.words}
		<div class="doors">
			{#if data.picks.length}
				<section aria-labelledby="picks" class="picks">
					<h2 id="picks">Wanted: three picks for you</h2>
					<ul>
						{#each data.picks as offering (offering.key)}
							<li>
								<a href="/ask/{offering.key}" data-pick={offering.key}>{offering.name}</a>
								<p>{offering.text}</p>
								<p class="soft small">{offering.reason}</p>
							</li>
						{/each}
					</ul>
				</section>
			{/if}
			{#if broken.length}
				<section aria-labelledby="broken" class="broken">
					<h2 id="broken">Or does something not work?</h2>
					<ul>
						{#each broken as offering (offering.key)}
							<li>
								<a href="/ask/{offering.key}" data-door="broken">{offering.name}</a>
								<p>{offering.text}</p>
							</li>
						{/each}
					</ul>
				</section>
			{/if}
		</div>
	{/if}

	<section aria-labelledby="catalog" aria-live="polite">
		<h2 id="catalog">{data.words ? `Found for “${data.words}”` : 'Everything you can ask for'}</h2>
		<!-- svelte-ignore a11y_no_static_element_interactions -->
		<div class="index" onkeydown={walk}>
			{#if data.words}
				<ul class="found">
					{#each data.found as offering (offering.key)}
						<li>
							<a href="/ask/{offering.key}?words={encodeURIComponent(data.words)}" data-result
								>{offering.name}</a
							>
							<span class="soft small">{offering.area}, {offering.service}</span>
							<p class="soft">{offering.text}</p>
							<p class="soft small">Found by {list.format(offering.by.map((w) => `“${w}”`))}.</p>
						</li>
					{:else}
						<li class="soft">
							Nothing here goes by those words. Try others, or <a href="/ask">look through everything</a
							>.{#if broken[0]}<br />If something does not work,
								<a href="/ask/{broken[0].key}?words={encodeURIComponent(data.words)}">tell us</a>.{/if}
						</li>
					{/each}
					<li>
						<a class="small" href="/find?words={encodeURIComponent(data.words)}" data-do="find-requests"
							>Find requests that go by “{data.words}”</a
						>
					</li>
				</ul>
			{:else}
				<div class="columns">
					{#each areas as { area, services } (area)}
						<div class="area">
							<h3 class="head">{area}</h3>
							{#each services as { service, offerings } (service)}
								<h4>{service}</h4>
								<ul>
									{#each offerings as offering (offering.key)}
										<li>
											<a href="/ask/{offering.key}" data-result>{offering.name}</a>
											<p class="soft small">{offering.text}</p>
										</li>
									{/each}
								</ul>
							{/each}
						</div>
					{:else}
						<p class="soft">Nothing is offered to you yet.</p>
					{/each}
				</div>
			{/if}
		</div>
	</section>
</main>

<style>
	main {
		max-width: 72rem;
		margin-inline: auto;
		padding: 2rem 1.5rem 4rem;
		display: grid;
		gap: 2rem;
		outline: none;
	}
	h1 {
		font-size: 2rem;
		margin-bottom: 0.5rem;
	}
	.wish .input {
		font-size: 1.25rem;
		padding: 0.7rem 0.9rem;
		width: 100%;
		box-shadow:
			inset 0 -3px 0 var(--sound),
			inset 0 0 0 1px var(--line-strong);
	}
	.waiting {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem 2rem;
		margin-top: 0.5rem;
	}
	.waiting a {
		display: flex;
		gap: 0.6rem;
		align-items: center;
		color: var(--ink);
		text-decoration: none;
		line-height: 1.3;
	}
	.waiting .do {
		color: var(--buoy-text);
	}
	.doors {
		display: grid;
		grid-template-columns: minmax(0, 3fr) minmax(0, 1fr);
		gap: 2rem;
	}
	.picks ul {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 1fr));
		gap: 0 2rem;
		border-top: 2px solid var(--sound);
		margin-top: 0.4rem;
	}
	.broken ul {
		border-top: 2px dashed var(--buoy);
		margin-top: 0.4rem;
	}
	.doors li {
		padding-top: 0.5rem;
	}
	.doors a {
		font-weight: 600;
		font-size: 1.0625rem;
	}
	@media (max-width: 900px) {
		.doors,
		.picks ul {
			grid-template-columns: minmax(0, 1fr);
		}
	}
	.columns {
		columns: 20rem 3;
		column-gap: 3rem;
		margin-top: 0.75rem;
	}
	.area {
		break-inside: avoid;
	}
	.head {
		font-size: 1.25rem;
		border-bottom: 2px solid var(--ink);
		padding-bottom: 0.2rem;
		margin-bottom: 0.4rem;
	}
	h4 {
		font-weight: 600;
		color: var(--ink-soft);
		font-size: 0.8125rem;
		margin-top: 0.7rem;
	}
	.area li {
		padding-block: 0.25rem;
	}
	a[data-result] {
		font-weight: 600;
		font-size: 1rem;
	}
	.found li {
		padding: 0.7rem 0;
		border-bottom: 1px solid var(--line);
		max-width: 48rem;
	}
</style>
