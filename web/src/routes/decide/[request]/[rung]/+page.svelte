<!-- One decision with all that bears on it. -->
<script module lang="ts">
	/** Reasons typed so far, by decision: looking at another one in between loses none. */
	const reasons = $state<Record<string, string>>({});
</script>

<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { list, money } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import Likely from '$lib/ui/Likely.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Price from '$lib/ui/Price.svelte';
	import Rungs from '$lib/ui/Rungs.svelte';
	import Say from '$lib/ui/Say.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import Why from '$lib/ui/Why.svelte';

	let { data } = $props();
	const act = new Act();
	const decision = $derived(data.decision);
	const mine = $derived(decision.allowed.includes('decide'));
	const key = $derived(`${decision.request}/${decision.rung}`);
	const params = $derived({ path: { request: decision.request, rung: decision.rung } });
	let passing = $state(false);
	let to = $state('');

	async function run(deed: () => Promise<unknown>) {
		const done = await act.run(deed);
		if (done) {
			delete reasons[key];
			passing = false;
		} else if (['/reason', '/text'].includes(act.problem?.errors?.[0]?.place ?? ''))
			document.getElementById('reason')?.focus();
	}
	const reason = $derived(reasons[key] ?? '');
	const decide = (what: 'approve' | 'decline') =>
		run(() =>
			unwrap(api.POST('/api/decisions/{request}/{rung}', { params, body: { decision: what, reason } }))
		);
	const ask = () =>
		run(() =>
			unwrap(api.POST('/api/decisions/{request}/{rung}/question', { params, body: { text: reason } }))
		);
	const unask = () => run(() => unwrap(api.POST('/api/decisions/{request}/{rung}/unask', { params })));
	const takeBack = () => run(() => unwrap(api.POST('/api/decisions/{request}/{rung}/take-back', { params })));
	const pass = () =>
		run(() => unwrap(api.POST('/api/decisions/{request}/{rung}/pass', { params, body: { to, reason } })));
</script>

<svelte:head><title>{decision.title} · Heptad</title></svelte:head>
<p class="eyebrow"><span class="mono">{decision.reference}</span> · {decision.rungName}</p>
<h1>
	{decision.title}{#if !decision.title.includes(decision.for)}&nbsp;for {decision.for}{/if}
</h1>
{#if decision.insteadOf}<p class="instead" data-instead-of>
		You decide in the place of <strong>{decision.insteadOf}</strong>{decision.why ? `: ${decision.why}` : ''}.
	</p>{/if}
{#if decision.urging}<p class="say" data-urging>
		{decision.urging.by} asks for more urgency: <strong>{decision.urging.choice}</strong>{decision.urging
			.reason
			? `, “${decision.urging.reason}”`
			: ''}. A no leaves all as it is.
	</p>{/if}
{#if decision.say}<p class="say">{decision.say}</p>{/if}
{#if decision.promise || decision.forecast}<p class="soft" data-foreseen>
		{#if decision.promise?.due}Promised by <When time={decision.promise.due} absolute />{decision.forecast
				? ', '
				: '.'}{/if}
		{#if decision.forecast}<Likely forecast={decision.forecast} />.{/if}
	</p>{/if}
{#if !decision.noPrice}<p class="cost">
		<Price price={decision.price} />
		{#if decision.cheaper}<span class="cheaper" data-cheaper
				>{money(decision.cheaper.less)} more in the first year than {list.format(
					decision.cheaper.cheapest
				)}</span
			>{/if}
		{#if decision.parts?.length}<span class="part" data-part-of={decision.parts.join(', ')}
				>You decide on the share of {list.format(decision.parts)} alone; the price is of that share.</span
			>{/if}
	</p>{/if}

{#if decision.together && mine}
	<p class="small" data-together>
		Sent together with others: “{decision.slip}”.
		<a href="/decide/several?slip={decision.together}">Decide those that wait for you in one act</a>
	</p>
{/if}
{#if mine}
	<form class="decide" onsubmit={(e) => e.preventDefault()}>
		{#if decision.decision}
			<p data-decided>
				<strong>You {decision.decision === 'approve' ? 'approved' : 'declined'} this.</strong> You can change your
				mind until the decision is passed.
			</p>
		{/if}
		<label for="reason"
			>Reason or question <span class="hint"
				>needed to decline, to ask back and to pass on; {decision.asker} reads it</span
			></label
		>
		<textarea
			id="reason"
			class="textarea"
			rows="2"
			bind:value={reasons[key]}
			maxlength="2000"
			aria-invalid={['/reason', '/text'].includes(act.problem?.errors?.[0]?.place ?? '')}></textarea>
		{#if passing}
			<div class="pass">
				<span class="small" id="pass-to">Pass it on to</span>
				<PersonPicker
					control={{ id: 'pass-person', 'aria-labelledby': 'pass-to' }}
					onpick={(p) => (to = p?.id ?? '')}
				/>
				<button class="btn do" onclick={pass} disabled={act.running || !to}>Pass on</button>
				<button class="btn quiet" onclick={() => (passing = false)}>Keep it</button>
			</div>
		{/if}
		<Trouble problem={act.problem} />
		<div class="buttons">
			{#if decision.decision !== 'approve'}<button
					class="btn do"
					onclick={() => decide('approve')}
					disabled={act.running}>Approve</button
				>{/if}
			{#if decision.decision !== 'decline'}<button
					class="btn plain"
					onclick={() => decide('decline')}
					disabled={act.running}>Decline</button
				>{/if}
			<button class="btn quiet" onclick={ask} disabled={act.running}>Ask a question back</button>
			{#if decision.allowed.includes('passOn') && !passing}<button
					class="btn quiet"
					onclick={() => (passing = true)}>Pass to a colleague</button
				>{/if}
			<span class="soft small">with you since <When time={decision.since} /></span>
			{#if decision.why}<Why of="Your decision" reason="{decision.rungName}: {decision.why}." />{/if}
		</div>
	</form>
{:else}
	<Trouble problem={act.problem} />
	{#if decision.allowed.includes('takeBack')}<p>
			You have passed this on. <button
				class="btn plain small"
				onclick={takeBack}
				disabled={act.running}
				data-do="take-back-passed">Take it back</button
			>
		</p>{/if}
	<p class="over" data-decided={decision.status}>
		{#if decision.question}{decision.question.by} asked {decision.asker}: <q>{decision.question.text}</q>
			{decision.asker} has until <When time={decision.question.until} absolute /> to answer.
			{#if decision.allowed.includes('unask')}<button
					class="btn quiet small"
					onclick={unask}
					disabled={act.running}
					data-do="unask">Take the question back</button
				>{/if}
		{:else if decision.decision}You {decision.decision === 'approve' ? 'approved' : 'declined'} this.{:else if decision.status === 'deciding'}This
			is being decided.{:else}This is decided.{/if}
		{#if decision.outcome}The request is closed as {decision.outcome}.{/if}
	</p>
{/if}

<section>
	<h2>What was asked</h2>
	<Answers answers={decision.answers} request={decision.request} rung={decision.rung} />
</section>

{#if decision.price.lines.length}
	<section>
		<h2>What it costs</h2>
		<ul>
			{#each decision.price.lines as line, i (i)}<li>
					{(line.quantity ?? 0) > 1 ? `${line.quantity} × ` : ''}{line.name}{#if line.unit}<span
							class="soft small">&nbsp;by the {line.unit}</span
						>{/if}
					<span class="mono soft">{money(line.sum)}</span>
				</li>{/each}
		</ul>
		<p><Price price={decision.price} /></p>
		{#if decision.cheaper}
			<p class="small">
				The cheapest allowed is {list.format(decision.cheaper.cheapest)} instead of {list.format(
					decision.cheaper.picked
				)}: {money(decision.cheaper.price)} in the first year.
			</p>
		{/if}
	</section>
{/if}

<section>
	<h2>Who decides</h2>
	<Rungs rungs={decision.rungs} />
</section>

{#if decision.words.length}
	<section>
		<h2>Said so far</h2>
		{#each decision.words as word, i (i)}
			<p>
				<span class="soft small"><When time={word.at} absolute /></span>
				{#if word.actor}<strong>{word.actor}:</strong>{/if}
				{word.sentence}. <q>{word.remark}</q>
			</p>
		{/each}
	</section>
{/if}
{#if decision.status !== 'closed'}<section>
		<Say request={decision.request} usual="the asker, and who decides here" />
	</section>{/if}

<style>
	.instead {
		border-left: 4px solid var(--sound);
		padding-left: 0.75rem;
	}
	section {
		margin-top: 1.4rem;
	}
	.say {
		margin-top: 0.2rem;
	}
	.cost {
		font-size: 1.125rem;
		margin-top: 0.2rem;
		display: flex;
		flex-wrap: wrap;
		gap: 0 0.8rem;
		align-items: baseline;
	}
	.part {
		font-size: 0.9375rem;
		font-weight: 600;
	}
	.cheaper {
		font-size: 0.9375rem;
		border-bottom: 2px solid var(--brass);
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
	.buttons,
	.pass {
		display: flex;
		gap: 0.75rem;
		align-items: center;
		flex-wrap: wrap;
	}
	.pass :global(.picker) {
		flex: 1;
		min-width: 14rem;
	}
</style>
