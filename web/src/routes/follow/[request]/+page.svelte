<!-- A request like a parcel: whose turn it is, the tasks, the answers, the history. -->
<script lang="ts">
	import { page } from '$app/state';
	import History from '$lib/follow/History.svelte';
	import Ties from '$lib/follow/Ties.svelte';
	import Turn from '$lib/follow/Turn.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import OnMyList from '$lib/ui/OnMyList.svelte';
	import PlanChart from '$lib/ui/PlanChart.svelte';
	import RunNow from '$lib/ui/RunNow.svelte';
	import Rungs from '$lib/ui/Rungs.svelte';
	import Secrets from '$lib/ui/Secrets.svelte';
	import Tasks from '$lib/ui/Tasks.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const request = $derived(data.request);
	const sent = $derived(page.url.searchParams.has('sent'));
</script>

<svelte:head><title>{request.reference} · Heptad</title></svelte:head>

{#if sent}
	<div class="sent" role="status" data-sent>
		<p>
			<strong>Sent as <span class="mono" data-reference>{request.reference}</span>.</strong> Keep the number if
			you like; you find it here at any time.
		</p>
	</div>
{/if}
<div class="bar">
	<p class="eyebrow mono">{request.reference}</p>
	<p class="give">
		<button class="btn quiet small" onclick={() => print()} data-do="print">Print</button>
		<a
			class="small"
			href="/api/requests/{request.id}/export"
			download="{request.reference}.json"
			data-do="export">Export as JSON</a
		>
	</p>
</div>
<h1>{request.title}</h1>
<p class="soft small">
	Asked by {request.asker}{#if request.for && request.for !== request.asker}, for {request.for}{/if}
</p>

{#if data.ties.sent.length}
	<p class="small" data-sent-together>
		Sent together as “{request.together}” with
		{#each data.ties.sent as other, i (other.id)}{i ? ', ' : ''}<a href="/follow/{other.id}">{other.title}</a
			>{/each}
	</p>
{/if}

<Turn {request} {act} ends={data.ties.ends} />

{#if data.secrets.length}
	<section>
		<h2>For you alone</h2>
		<Secrets secrets={data.secrets} />
	</section>
{/if}

{#if request.chart}
	<section>
		<h2>The plan</h2>
		<PlanChart chart={request.chart} />
	</section>
{/if}

{#if request.rungs.length}
	<section>
		<h2>Decisions</h2>
		<Rungs rungs={request.rungs} />
	</section>
{/if}

{#if request.tasks.length}
	<section>
		<h2>Tasks</h2>
		<Tasks tasks={request.tasks} />
	</section>
{/if}

<section>
	<div class="bar">
		<h2>Your answers</h2>
		{#if request.askerId === data.session.person?.id && request.status !== 'draft'}
			<a class="small" href="/ask/{request.offering}?again={request.id}" data-do="again"
				>Ask for the same again</a
			>
		{/if}
	</div>
	<Answers answers={request.answers} request={request.id} />
	{#if request.readings.length}
		<details class="small" data-readings>
			<summary class="soft">Who had private answers and secrets shown</summary>
			<ul>
				{#each request.readings as reading, i (i)}
					<li>
						<When time={reading.at} absolute />: {reading.who}, {reading.what}{#if reading.as}, for {reading.as}{/if}
					</li>
				{/each}
			</ul>
		</details>
	{/if}
</section>

<Ties request={request.id} ties={data.ties} />

<RunNow request={request.id} runs={request.runs} />
{#if request.status !== 'closed'}<OnMyList request={request.id} />{/if}

<History {request} />

<style>
	section {
		margin-top: 1.4rem;
	}
	.sent {
		border-left: 4px solid var(--kelp);
		padding: 0.4rem 0.75rem;
		margin-bottom: 1rem;
		background: var(--sound-wash);
	}
	.bar {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 1rem;
	}
	.give {
		display: flex;
		gap: 0.75rem;
		align-items: center;
	}
</style>
