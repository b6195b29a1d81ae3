<!-- A decision from a mail, without signing in: it shows the request, and asks for confirmation. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, Refused, type Problem } from '$lib/api/client';
	import { answerText } from '$lib/words';
	import Price from '$lib/ui/Price.svelte';
	import Segments from '$lib/ui/Segments.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const linked = $derived(data.linked);
	let decision = $state<'approve' | 'decline'>(
		untrack(() => (data.answer === 'decline' ? 'decline' : 'approve'))
	);
	let reason = $state('');
	let running = $state(false);
	let done = $state(false);
	let problem = $state.raw<Problem | undefined>();

	async function confirm(e: SubmitEvent) {
		e.preventDefault();
		if (running) return;
		running = true;
		problem = undefined;
		try {
			await unwrap(
				api.POST('/api/mail/{token}', { params: { path: { token: data.token } }, body: { decision, reason } })
			);
			done = true;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			problem = refused.problem;
			if (problem.errors?.[0]?.place === '/reason') document.getElementById('reason')?.focus();
		}
		running = false;
	}
</script>

<svelte:head><title>Your decision · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<p class="eyebrow mono">{linked.reference}</p>
	<h1>
		{linked.title}{#if !linked.title.includes(linked.for)}&nbsp;for {linked.for}{/if}
	</h1>
	{#if done}
		<p class="over" role="status" data-done>
			Thank you, {linked.person}. You {decision === 'approve' ? 'approved' : 'declined'} this.
		</p>
		<p>You can close this page. <a href="/">Sign in</a> to see what follows, or to change your mind.</p>
	{:else if linked.trouble}
		<p class="over" data-trouble>{linked.trouble}</p>
		<p><a href="/">Sign in</a></p>
	{:else}
		<p>
			{linked.asker} asks; you decide as <strong>{linked.person}</strong>: {linked.rung}{#if linked.due},
				until <When time={linked.due} absolute />{/if}.
		</p>
		{#if linked.say}<p>{linked.say}</p>{/if}
		{#if !linked.noPrice}<p class="cost"><Price price={linked.price} /></p>{/if}
		<dl>
			{#each linked.answers as answer (answer.key)}
				<div>
					<dt>{answer.label}</dt>
					<dd>{answerText(answer.text)}</dd>
				</div>
			{/each}
		</dl>
		<form onsubmit={confirm}>
			<Segments
				shown
				label="What do you say?"
				value={decision}
				choices={[
					['approve', 'Approve'],
					['decline', 'Decline']
				]}
				onpick={(what) => (decision = what)}
			/>
			<label for="reason">Reason <span class="hint">needed to decline; {linked.asker} reads it</span></label>
			<textarea id="reason" class="textarea" rows="2" bind:value={reason} maxlength="2000"></textarea>
			<Trouble {problem} />
			<button class="btn do" disabled={running} data-confirm
				>Yes, {decision === 'approve' ? 'approve' : 'decline'} it</button
			>
		</form>
	{/if}
</main>

<style>
	main {
		max-width: 40rem;
		margin: 2rem auto;
		padding: 1.5rem 1.75rem;
		background: var(--panel);
		outline: none;
	}
	.over {
		font-weight: 600;
		padding-block: 0.8rem;
	}
	.cost {
		font-size: 1.125rem;
	}
	dl {
		margin-block: 0.8rem;
		border-top: 1px solid var(--line);
	}
	dl div {
		display: grid;
		grid-template-columns: 12rem 1fr;
		gap: 1rem;
		padding-block: 0.3rem;
		border-bottom: 1px solid var(--line);
	}
	dt {
		color: var(--ink-soft);
	}
	form {
		display: grid;
		gap: 0.5rem;
		justify-items: start;
	}
	.textarea {
		width: 100%;
	}
	@media (max-width: 600px) {
		dl div {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
