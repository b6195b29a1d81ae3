<!-- The front page of Ask: what waits for me, picks, what is under way, what I have, help, and the whole catalog. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Dial from '$lib/ui/Dial.svelte';
	import Likely from '$lib/ui/Likely.svelte';
	import { list } from '$lib/words';

	type Props = {
		offerings: Schema['CatalogEntry'][];
		picks: Schema['CatalogEntry'][];
		yours: Schema['RequestLine'][];
		underway: Schema['RequestLine'][];
		have: Schema['HaveView'][];
		asked: Schema['AskedOfMe'][];
		decisions: Schema['DecisionLine'][];
		tasks: Schema['TaskLine'][];
		toDecide: number;
	};
	let { offerings, picks, yours, underway, have, asked, decisions, tasks, toDecide }: Props = $props();

	const broken = $derived(offerings.filter((o) => o.door === 'broken'));
	const wanted = $derived(offerings.filter((o) => o.door !== 'broken' && !o.catchAll));
	const rest = $derived(offerings.find((o) => o.catchAll));
	const help = $derived(
		offerings.flatMap((o) => o.articles.map((title) => ({ title, offering: o }))).slice(0, 5)
	);
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
	const counts = ['', 'one pick', 'two picks', 'three picks'];
	const verbs: Partial<Record<Schema['RequestLine']['status'], string>> = {
		draft: 'Finish and send',
		returned: 'Answer what was asked',
		waiting: 'Answer what was asked',
		delivered: 'Confirm that it is done'
	};
	/** Everything that waits for the reader, drafts last. */
	const waiting = $derived([
		...decisions.map((d) => ({
			href: `/decide/${d.request}/${d.rung}`,
			title: d.title,
			note: d.asker,
			verb: d.insteadOf ? `Decide, for ${d.insteadOf}` : 'Decide',
			stages: undefined
		})),
		...tasks.map((t) => ({
			href: `/deliver/${t.request}/${t.key}`,
			title: t.name,
			note: t.title,
			verb: t.state === 'stuck' ? 'Help it on' : 'Do your task',
			stages: undefined
		})),
		...asked.map((a) => ({
			href: '/follow',
			title: a.name,
			note: `${a.title}, for ${a.asker}`,
			verb: 'Confirm your part',
			stages: undefined
		})),
		...[...yours]
			.sort((a, b) => Number(a.status === 'draft') - Number(b.status === 'draft'))
			.map((r) => ({
				href: r.status === 'draft' ? `/ask/${r.offering}` : `/follow/${r.id}`,
				title: r.title,
				note: r.reference,
				verb: verbs[r.status] ?? 'Look at it',
				stages: r.stages
			}))
	]);
	const more = $derived(Math.max(0, toDecide - decisions.length));
</script>

{#if waiting.length}
	<section aria-labelledby="waiting">
		<h2 id="waiting">Waits for you</h2>
		<ul class="waiting">
			{#each waiting as one (one.href + one.title)}
				<li>
					<a href={one.href} data-waiting>
						{#if one.stages}<Dial stages={one.stages} yours size={30} />{:else}<span
								class="flag"
								aria-hidden="true"
							></span>{/if}
						<span
							><strong>{one.title}</strong> <span class="soft small">{one.note}</span><br /><span class="do"
								>{one.verb}</span
							></span
						>
					</a>
				</li>
			{/each}
			{#if more}<li class="more"><a href="/decide">{more} more to decide</a></li>{/if}
		</ul>
	</section>
{/if}

<div class="doors" class:alone={!picks.length || !broken.length}>
	{#if picks.length}
		<section aria-labelledby="picks" class="picks">
			<h2 id="picks">Wanted: {counts[picks.length]} for you</h2>
			<ul>
				{#each picks as offering (offering.key)}
					<li>
						{#if offering.picture}<img src={offering.picture} alt="" />{/if}
						<div>
							<a href="/ask/{offering.key}" data-pick={offering.key}>{offering.name}</a>
							<p>{offering.text}</p>
							<p class="soft small">{offering.reason}</p>
						</div>
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
						{#if offering.picture}<img src={offering.picture} alt="" />{/if}
						<div>
							<a href="/ask/{offering.key}" data-door="broken">{offering.name}</a>
							<p>{offering.text}</p>
						</div>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</div>

<div class="mine">
	<section aria-labelledby="underway">
		<h2 id="underway">Under way for you</h2>
		<ul>
			{#each underway as request (request.id)}
				<li>
					<a href="/follow/{request.id}">{request.title}</a>
					<p class="soft small">
						{#if request.holders[0]}With {list.format(request.holders.slice(0, 2).map((h) => h.name))}.{/if}
						{#if request.forecast}<Likely forecast={request.forecast} />{/if}
					</p>
				</li>
			{:else}
				<li class="soft small">Nothing: what you send shows here until it is done.</li>
			{/each}
			<li class="small"><a href="/follow">All my requests</a></li>
		</ul>
	</section>
	<section aria-labelledby="have">
		<h2 id="have">What you have</h2>
		<ul>
			{#each have as thing (thing.id)}
				<li>
					<a href="/follow/have">{thing.name}</a>
					{#if thing.detail}<p class="soft small">{thing.detail}</p>{/if}
				</li>
			{:else}
				<li class="soft small">Nothing yet: what you get by a request shows here.</li>
			{/each}
			{#if have.length}<li class="small"><a href="/follow/have">Change, extend or hand back</a></li>{/if}
		</ul>
	</section>
	{#if help.length || rest}
		<section aria-labelledby="help">
			<h2 id="help">Help</h2>
			<ul>
				{#each help as { title, offering } (offering.key + title)}
					<li>
						<a href="/ask/{offering.key}?help={encodeURIComponent(title)}">{title}</a>
						<p class="soft small">{offering.name}</p>
					</li>
				{/each}
				{#if rest}
					<li>
						<a href="/ask/{rest.key}">What you need is not here?</a>
						<p class="soft small">{rest.text}</p>
					</li>
				{/if}
			</ul>
		</section>
	{/if}
</div>

<section aria-labelledby="catalog">
	<h2 id="catalog">Everything you can ask for</h2>
	<div class="columns">
		{#each areas as { area, services } (area)}
			<div class="area">
				<h3 class="head">{area}</h3>
				{#each services as { service, offerings } (service)}
					<h4>{service}</h4>
					<ul>
						{#each offerings as offering (offering.key)}
							<li class:drawn={offering.picture}>
								{#if offering.picture}<img src={offering.picture} alt="" loading="lazy" />{/if}
								<span>
									<a href="/ask/{offering.key}" data-result>{offering.name}</a>
									<p class="soft small">{offering.text}</p>
								</span>
							</li>
						{/each}
					</ul>
				{/each}
			</div>
		{:else}
			<p class="soft">Nothing is offered to you yet.</p>
		{/each}
	</div>
</section>

<style>
	.drawn {
		display: grid;
		grid-template-columns: 1.75rem minmax(0, 1fr);
		gap: 0.7rem;
		align-items: start;
	}
	.drawn img {
		width: 1.75rem;
		height: 1.75rem;
		margin-top: 0.15rem;
	}
	.waiting {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(19rem, 1fr));
		gap: 0.5rem 2rem;
		margin-top: 0.5rem;
	}
	.waiting a {
		display: flex;
		gap: 0.6rem;
		align-items: flex-start;
		color: var(--ink);
		text-decoration: none;
		line-height: 1.3;
	}
	.waiting .do {
		color: var(--buoy-text);
	}
	.flag {
		flex: none;
		width: 4px;
		height: 1.3em;
		background: var(--buoy);
	}
	.waiting:has(:global(svg)) .flag {
		margin-left: 26px; /* as wide as the dials beside it */
	}
	.waiting .more {
		align-self: center;
	}
	.waiting .more a {
		color: var(--sound);
		text-decoration: underline;
	}
	.doors {
		display: grid;
		grid-template-columns: minmax(0, 3fr) minmax(0, 1fr);
		gap: 2rem;
	}
	.doors.alone {
		grid-template-columns: minmax(0, 1fr);
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
		display: flex;
		gap: 0.7rem;
		align-items: flex-start;
		padding-top: 0.5rem;
	}
	.doors img {
		flex: none;
		width: 2.75rem;
		height: 2.75rem;
	}
	.doors a {
		font-weight: 600;
		font-size: 1.0625rem;
	}
	.mine {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 1fr));
		gap: 2rem;
	}
	.mine ul {
		border-top: 1px solid var(--line-strong);
		margin-top: 0.4rem;
	}
	.mine li {
		padding-block: 0.35rem;
	}
	@media (max-width: 900px) {
		.doors,
		.mine,
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
</style>
