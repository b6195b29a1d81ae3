<!-- What I have: everything that came out of requests, with what can be asked for it. -->
<script lang="ts">
	import Secrets from '$lib/ui/Secrets.svelte';
	import When from '$lib/ui/When.svelte';
	import { answerText } from '$lib/words';

	let { data } = $props();
	const does = { change: 'Change it', extend: 'Extend it', handBack: 'Hand it back' } as const;
</script>

<svelte:head><title>What I have · Heptad</title></svelte:head>
<h1>What I have</h1>
{#if data.secrets.length}
	<h2>For you alone</h2>
	<Secrets secrets={data.secrets} named />
{/if}
<ul>
	{#each data.have.entries as thing (thing.id)}
		<li data-have={thing.id}>
			<div>
				<strong>{thing.name}</strong>
				<p class="soft small">
					{[thing.kind, thing.detail, thing.until && `until ${answerText(thing.until)}`]
						.filter(Boolean)
						.join(', ')}{#if thing.request},
						<a href="/follow/{thing.request}">from this request</a>{/if}
				</p>
			</div>
			<div class="fits">
				{#each thing.fits as fit (fit.offering + fit.does)}
					<a
						class="btn plain"
						href="/ask/{fit.offering}?{new URLSearchParams({ [fit.question]: thing.id })}"
						title={fit.name}
						data-fit={fit.offering}>{does[fit.does]}</a
					>
				{/each}
			</div>
		</li>
	{:else}
		<li class="soft">Nothing yet: what you get by a request shows here once it is done.</li>
	{/each}
</ul>

{#if data.joined.entries.length}
	<h2 class="joined">What you have joined</h2>
	<ul>
		{#each data.joined.entries as one, i (i)}
			<li data-joined={one.state}>
				<div>
					<strong>{one.sentence}</strong>
					<p class="soft small">
						{#if one.line}“{one.line}”,
						{/if}since <When time={one.at} absolute />
					</p>
				</div>
				<span>{{ open: 'being worked on', mended: 'mended', ended: 'ended' }[one.state]}</span>
			</li>
		{/each}
	</ul>
{/if}

<style>
	.joined {
		margin-top: 1.4rem;
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 1rem;
		align-items: center;
		padding-block: 0.6rem;
		border-bottom: 1px solid var(--line);
	}
	.fits {
		display: flex;
		gap: 0.5rem;
		flex-wrap: wrap;
	}
</style>
