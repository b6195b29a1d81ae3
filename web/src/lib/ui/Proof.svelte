<!-- Asks again who it is, before what needs more care. -->
<script lang="ts">
	import { api, unwrap, Refused, type Problem } from '$lib/api/client';
	import Dialog from './Dialog.svelte';
	import Field from './Field.svelte';
	import { proof, proved } from './proof.svelte';
	import Trouble from './Trouble.svelte';

	let password = $state('');
	let code = $state('');
	let factor = $state(false);
	let problem = $state.raw<Problem | undefined>();
	let running = $state(false);
	/** Who comes from the sign-in service may have no password here. */
	const ways = api.GET('/api/me/safety').then(({ data }) => data);

	async function send(event: SubmitEvent) {
		event.preventDefault();
		running = true;
		try {
			await unwrap(api.POST('/api/session/proof', { body: { password, code: code || undefined } }));
			proved(true);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			problem = refused.problem.code === 'codeNeeded' ? undefined : refused.problem;
			factor ||= refused.problem.code === 'codeNeeded';
		} finally {
			running = false;
		}
	}
</script>

<Dialog bind:open={() => proof.asked, (open) => open || proved(false)} title="Is it you?" name="proof">
	<p>This needs more care. Prove again that it is you; for ten minutes you are not asked anew.</p>
	{#await ways then safety}
		{#if safety && !safety.password}<p>
				<a href="/api/service?again&back={encodeURIComponent(location.pathname + location.search)}"
					>Sign in anew with your company account</a
				>, then do it again.
			</p>{/if}
	{/await}
	<form onsubmit={send}>
		<Field label="Password"
			><input
				class="input"
				type="password"
				bind:value={password}
				autocomplete="current-password"
				required
				data-field="password"
			/></Field
		>
		{#if factor}<Field label="Code" hint="Of your second factor, or a recovery code."
				><input
					class="input mono"
					bind:value={code}
					autocomplete="one-time-code"
					required
					data-field="code"
				/></Field
			>{/if}
		<Trouble {problem} />
		<div class="buttons">
			<button class="btn do" disabled={running} data-do="prove">It is me</button>
			<button type="button" class="btn plain" onclick={() => proved(false)}>Leave it</button>
		</div>
	</form>
</Dialog>

<style>
	form {
		display: grid;
		gap: 0.75rem;
	}
</style>
