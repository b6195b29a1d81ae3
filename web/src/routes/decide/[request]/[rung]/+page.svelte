<!-- One decision with all that bears on it. -->
<script module lang="ts">
	/** Reasons typed so far, by decision: looking at another one in between loses none. */
	const reasons = $state<Record<string, string>>({});
</script>

<script lang="ts">
	import { api, asked } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Price from '$lib/ui/Price.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import Why from '$lib/ui/Why.svelte';

	let { data } = $props();
	const act = new Act();
	const decision = $derived(data.decision);
	const mine = $derived(decision.allowed.includes('decide'));
	const key = $derived(`${decision.request}/${decision.rung}`);

	async function decide(what: 'approve' | 'decline') {
		const path = { request: decision.request, rung: decision.rung };
		const done = await act.run(() =>
			asked(
				api.POST('/api/decisions/{request}/{rung}', {
					params: { path },
					body: { decision: what, reason: reasons[key] ?? '' }
				})
			)
		);
		if (done) delete reasons[key];
		else if (act.problem?.errors?.[0]?.place === '/reason') document.getElementById('reason')?.focus();
	}
</script>

<svelte:head><title>{decision.title} · Heptad</title></svelte:head>
<p class="eyebrow"><span class="mono">{decision.reference}</span> · {decision.rungName}</p>
<h1>{decision.title} for {decision.asker}</h1>
<p class="cost"><Price price={decision.price} /></p>

{#if mine}
	<form class="decide" onsubmit={(e) => e.preventDefault()}>
		<label for="reason">Reason <span class="hint">needed to decline; {decision.asker} reads it</span></label>
		<textarea
			id="reason"
			class="textarea"
			rows="2"
			bind:value={reasons[key]}
			maxlength="2000"
			aria-invalid={act.problem?.errors?.[0]?.place === '/reason'}></textarea>
		<Trouble problem={act.problem} />
		<div class="buttons">
			<button class="btn do" onclick={() => decide('approve')} disabled={act.running}>Approve</button>
			<button class="btn plain" onclick={() => decide('decline')} disabled={act.running}>Decline</button>
			<span class="soft small">with you since <When time={decision.since} /></span>
			{#if decision.why}<Why of="Your decision" reason="You are {decision.why}." />{/if}
		</div>
	</form>
{:else}
	<Trouble problem={act.problem} />
	<p class="over" data-decided>
		{#if decision.decision}You {decision.decision === 'approve' ? 'approved' : 'declined'} this.{:else}This is
			decided.{/if}
		{#if decision.outcome}The request is closed as {decision.outcome}.{/if}
	</p>
{/if}

<section>
	<h2>What was asked</h2>
	<Answers answers={decision.answers} request={decision.request} />
</section>

<section>
	<h2>What it costs</h2>
	{#if decision.price.lines.length}
		<ul>
			{#each decision.price.lines as line (line.item)}<li>{line.quantity} × {line.name}</li>{/each}
		</ul>
	{/if}
	<p><Price price={decision.price} /></p>
</section>

{#if decision.rungs.some((r) => r.seats.some((s) => s.decision))}
	<section>
		<h2>Decided so far</h2>
		{#each decision.rungs as rung (rung.key)}
			{#each rung.seats.filter((s) => s.decision) as seat (seat.name)}
				<p>
					<strong>{seat.name}</strong>
					{seat.decision === 'approve' ? 'approved' : 'declined'}
					{#if seat.at}<When time={seat.at} />{/if}{#if seat.said}: <q>{seat.said}</q>{/if}
				</p>
			{/each}
		{/each}
	</section>
{/if}

<style>
	section {
		margin-top: 1.4rem;
	}
	.cost {
		font-size: 1.125rem;
		margin-top: 0.2rem;
	}
	.decide {
		display: grid;
		gap: 0.5rem;
		margin-top: 0.9rem;
		padding-block: 0.8rem;
		border-block: 1px solid var(--line-strong);
	}
	.over {
		margin-top: 0.9rem;
		padding-block: 0.6rem;
		border-block: 1px solid var(--line-strong);
		font-weight: 600;
	}
	.buttons {
		display: flex;
		gap: 0.75rem;
		align-items: center;
		flex-wrap: wrap;
	}
</style>
