<!-- The facts beside a request: dial, holder, stages. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { money, stageNames } from '$lib/words';
	import Followers from './Followers.svelte';
	import Likely from './Likely.svelte';
	import Dial from './Dial.svelte';
	import Price from './Price.svelte';
	import PromiseLine from './PromiseLine.svelte';
	import When from './When.svelte';
	let { request, me }: { request: Schema['RequestSheet']; me: string } = $props();
</script>

<div class="dial">
	<Dial stages={request.stages} yours={request.yours} closed={request.status === 'closed'} size={132} words />
</div>
<ol>
	{#each request.stages as stage (stage.key)}
		<li class:reached={stage.at}>
			<span>{stageNames[stage.key]}</span>
			<span class="soft"
				>{#if stage.at}<When time={stage.at} absolute />{:else if request.status === 'closed'}passed over{/if}</span
			>
		</li>
	{/each}
</ol>
{#if request.promise}
	<h2 class="fact">Promise</h2>
	<PromiseLine promise={request.promise} forecast={request.forecast} />
{:else if request.forecast}
	<h2 class="fact">Likely done</h2>
	<p data-likely><Likely forecast={request.forecast} /></p>
{/if}
{#if request.via}
	<h2 class="fact">Asked</h2>
	<p>{request.for} asked {request.via}</p>
{/if}
<h2 class="fact">Cost</h2>
<p><Price price={request.price} /></p>
{#if request.realCost}
	<p class="small" class:warn={request.realCost.dearer} data-real-cost>
		Really {money(request.realCost.sum)} once{#if request.realCost.dearer}, more than the {money(
				request.realCost.once
			)} asked{/if}
	</p>
{/if}
{#if request.ratings.length}
	<h2 class="fact">How it went</h2>
	{#each request.ratings as rating (rating.by)}
		<p class="small" data-rated={rating.stars}>
			{rating.by}: <strong>{rating.stars} of 5</strong>{#if rating.text}. {rating.text}{/if}
		</p>
	{/each}
{/if}
{#if request.mails.length}
	<details>
		<summary class="fact">Told by mail ({request.mails.length})</summary>
		<ul>
			{#each request.mails as mail, i (i)}
				<li class="mail" data-mail={mail.state}>
					<span>{mail.to}: {mail.subject}</span>
					<span class="soft small"
						>{mail.state}{#if mail.trouble}: {mail.trouble}{/if}</span
					>
				</li>
			{/each}
		</ul>
	</details>
{/if}
{#if request.status !== 'draft'}
	{#key request.id}<Followers {request} {me} mayAdd={request.allowed.includes('follow')} />{/key}
{/if}

<style>
	.dial {
		display: grid;
		place-items: center;
		padding-bottom: 0.75rem;
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 0.5rem;
		padding-block: 0.15rem;
		color: var(--ink-soft);
		white-space: nowrap;
	}
	.mail {
		display: grid;
		white-space: normal;
	}
	.warn {
		color: var(--buoy-text);
	}
	.reached > :first-child {
		font-weight: 600;
		color: var(--ink);
	}
</style>
