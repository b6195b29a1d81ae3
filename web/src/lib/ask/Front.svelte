<!-- The front page of Ask: what waits for me, picks, what is under way, what I have, help, and the whole catalog. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Catalog from './Catalog.svelte';
	import Waiting from './Waiting.svelte';
	import Likely from '$lib/ui/Likely.svelte';
	import { list } from '$lib/words';

	type Props = {
		offerings: Schema['CatalogBody'];
		picks: Schema['CatalogEntry'][];
		yours: Schema['RequestLine'][];
		underway: Schema['RequestLine'][];
		have: Schema['HaveView'][];
		parts: Schema['PartToConfirm'][];
		decisions: Schema['DecisionLine'][];
		tasks: Schema['TaskLine'][];
		toDecide: number;
		onSlip: number;
	};
	let { offerings, picks, yours, underway, have, parts, decisions, tasks, toDecide, onSlip }: Props =
		$props();

	const broken = $derived(offerings.beside?.broken ?? []);
	const rest = $derived(offerings.beside?.catchAll);
	const help = $derived(offerings.beside?.help ?? []);
	const counts = ['', 'one pick', 'two picks', 'three picks'];
</script>

{#if onSlip}
	<p class="slip" data-on-slip={onSlip}>
		<strong>On your slip: {onSlip === 1 ? 'one wish' : `${onSlip} wishes`}, not sent yet.</strong>
		<a href="/slip">Look through them and send</a>
	</p>
{/if}
<Waiting {yours} {parts} {decisions} {tasks} {toDecide} />

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
				{#each help as { title, offering, name } (offering + title)}
					<li>
						<a href="/ask/{offering}?help={encodeURIComponent(title)}">{title}</a>
						<p class="soft small">{name}</p>
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

<Catalog first={offerings} />

<style>
	.slip {
		border-left: 4px solid var(--buoy);
		padding: 0.4rem 0.75rem;
		margin-bottom: 0.75rem;
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
</style>
