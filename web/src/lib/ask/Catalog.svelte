<!-- Everything that can be asked for, by area and service. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import More from '$lib/ui/More.svelte';

	let { first }: { first: Schema['CatalogBody'] } = $props();
	const list = new Paged(
		() => first,
		(after) => unwrap(api.GET('/api/offerings', { params: { query: { limit: 100, after } } }))
	);
	const unique = (names: string[]) => [...new Set(names)];
	/** A page by area and service: each page has columns of its own, so that nothing one has read moves. */
	const areasOf = ({ entries, headings }: Schema['CatalogBody']) => {
		const picture = (area: string, service?: string) =>
			headings.find((h) => h.area === area && h.service === service)?.picture;
		return unique(entries.map((o) => o.area)).map((area) => ({
			area,
			picture: picture(area),
			services: unique(entries.filter((o) => o.area === area).map((o) => o.service)).map((service) => ({
				service,
				picture: picture(area, service),
				offerings: entries.filter((o) => o.service === service)
			}))
		}));
	};
</script>

<section aria-labelledby="catalog">
	<h2 id="catalog">Everything you can ask for</h2>
	{#each list.pages as page (page)}
		<div class="columns">
			{#each areasOf(page) as { area, picture, services } (area)}
				<div class="area">
					<h3 class="head">
						{#if picture}<img src={picture} alt="" />{/if}{area}
					</h3>
					{#each services as { service, picture, offerings } (service)}
						<h4>
							{#if picture}<img src={picture} alt="" />{/if}{service}
						</h4>
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
	{/each}
	{#if list.next}<More more={list.more} />{/if}
</section>

<style>
	h3 img,
	h4 img {
		display: inline-block;
		height: 1.3em;
		margin-right: 0.4rem;
		vertical-align: text-bottom;
	}
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
