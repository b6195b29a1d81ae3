<!-- Signing in by name and password, with the code of the second factor when it is asked for. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	/** back: where the person wanted to be. */
	let { ways, back }: { ways: Schema['Entrance']; back: string } = $props();
	const act = new Act();
	let name = $state('');
	let password = $state('');
	let code = $state('');
	/** The password was right, and a code is asked for. */
	let factor = $state(false);
	/** A new password is asked for, and whether the link is on its way. */
	let forgot = $state<'no' | 'asking' | 'sent'>('no');

	async function enter() {
		await act.run(() =>
			unwrap(api.POST('/api/session/password', { body: { name, password, code: code || undefined } }))
		);
		if (act.problem?.code === 'codeNeeded') [factor, act.problem] = [true, undefined];
		if (act.problem?.code === 'wrongPassword') [factor, code] = [false, ''];
	}
	async function send() {
		const sent = await act.run(() => unwrap(api.POST('/api/forgotten', { body: { name } })));
		if (sent) forgot = 'sent';
	}
	const submit = (event: SubmitEvent) => {
		event.preventDefault();
		void (forgot === 'no' ? enter() : send());
	};
</script>

<form onsubmit={submit}>
	{#if forgot === 'sent'}
		<p role="status">
			If somebody here has that name and a mail address, a link is on its way to them. It counts for an hour,
			and opens once.
		</p>
		<button type="button" class="btn plain" onclick={() => (forgot = 'no')}>Back to signing in</button>
	{:else}
		{#if ways.service}
			<a class="btn do" href="/api/service?back={encodeURIComponent(back)}" data-do="service"
				>Sign in with {ways.service}</a
			>
			<p class="soft small">Or, who has a password here:</p>
		{/if}
		<Field label="Login, or mail address">
			<!-- svelte-ignore a11y_autofocus (the one thing to do here) -->
			<input
				class="input"
				bind:value={name}
				autocomplete="username"
				autocapitalize="none"
				spellcheck="false"
				maxlength="200"
				required
				autofocus
				data-field="name"
			/>
		</Field>
		{#if forgot === 'no'}
			<Field label="Password">
				<input
					class="input"
					type="password"
					bind:value={password}
					autocomplete="current-password"
					required
					data-field="password"
				/>
			</Field>
			{#if factor}
				<Field label="Code" hint="The six digits of your second factor, or one of your recovery codes.">
					<!-- svelte-ignore a11y_autofocus (the one thing that is still asked for) -->
					<input
						class="input mono"
						bind:value={code}
						autocomplete="one-time-code"
						maxlength="40"
						required
						autofocus
						data-field="code"
					/>
				</Field>
			{/if}
		{/if}
		<Trouble problem={act.problem} />
		<div class="buttons">
			{#if forgot === 'no'}
				<button class="btn {ways.service ? 'plain' : 'do'}" disabled={act.running} data-do="enter"
					>{act.running ? 'One moment …' : 'Sign in'}</button
				>
				{#if ways.mail}<button
						type="button"
						class="btn quiet"
						onclick={() => (forgot = 'asking')}
						data-do="forgot">I forgot my password</button
					>{:else}<span class="soft small">Forgotten? An administrator helps: no mail goes out here.</span
					>{/if}
			{:else}
				<button class="btn do" disabled={act.running} data-do="send-link">Send me a link</button>
				<button type="button" class="btn quiet" onclick={() => (forgot = 'no')}>Back</button>
			{/if}
		</div>
	{/if}
</form>
