<!-- The second factor of whoever is signed in: setting it, its recovery codes, taking it away. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { safety }: { safety: Schema['SafetyBody'] } = $props();
	const act = new Act();
	let offered = $state.raw<Schema['FactorBody'] | undefined>();
	let code = $state('');
	/** Recovery codes, which are shown once. */
	let codes = $state.raw<string[]>([]);

	const begin = async () => (offered = await act.run(() => unwrap(api.POST('/api/me/factor'))));
	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const secret = offered?.secret ?? '';
		const kept = await act.run(() => unwrap(api.PUT('/api/me/factor', { body: { secret, code } })));
		if (kept) [codes, offered, code] = [kept.codes, undefined, ''];
	}
	async function anew() {
		codes = (await act.run(() => unwrap(api.POST('/api/me/codes'))))?.codes ?? codes;
	}
	async function drop() {
		if (!confirm('Take the second factor away? Whoever has your password can then sign in as you.')) return;
		await act.run(() => unwrap(api.DELETE('/api/me/factor')));
		codes = [];
	}
</script>

{#if codes.length}
	<p>
		Keep these recovery codes where your device is not. Each opens once, should you lose it; they are not
		shown again.
	</p>
	<ul class="mono" data-codes>
		{#each codes as one (one)}<li>{one}</li>{/each}
	</ul>
	<button class="btn do" onclick={() => (codes = [])} data-do="kept-codes">I have kept them</button>
{:else if offered}
	<form onsubmit={keep}>
		<p>Read the picture with an authenticator on your telephone, then type the six digits it shows.</p>
		<img src={offered.qr} alt="The second factor, for an authenticator to read" width="180" height="180" />
		<p class="small">Or type this there: <span class="mono" data-secret>{offered.secret}</span></p>
		<Field label="Code"
			><input
				class="input mono"
				bind:value={code}
				autocomplete="one-time-code"
				maxlength="10"
				required
				data-field="factor-code"
			/></Field
		>
		<Trouble problem={act.problem} />
		<div class="buttons">
			<button class="btn do" disabled={act.running} data-do="set-factor">Set it</button>
			<button type="button" class="btn plain" onclick={() => (offered = undefined)}>Not now</button>
		</div>
	</form>
{:else}
	<Trouble problem={act.problem} />
	{#if safety.factor}
		<p>It is set. {safety.codes} recovery {safety.codes === 1 ? 'code is' : 'codes are'} left.</p>
		<div class="buttons">
			<button class="btn plain" onclick={begin} disabled={act.running}>Another device</button>
			<button class="btn plain" onclick={anew} disabled={act.running}>New recovery codes</button>
			{#if !safety.needed}<button class="btn quiet" onclick={drop} disabled={act.running}>Take it away</button
				>{/if}
		</div>
	{:else}
		<p class="soft">There is none: whoever has your password can sign in as you.</p>
		<button class="btn plain" onclick={begin} disabled={act.running} data-do="begin-factor"
			>Set a second factor</button
		>
	{/if}
{/if}

<style>
	form {
		display: grid;
		gap: 0.7rem;
		max-width: 26rem;
	}
	img {
		background: #fff;
		padding: 6px;
	}
	ul {
		columns: 2;
		column-gap: 2rem;
	}
</style>
