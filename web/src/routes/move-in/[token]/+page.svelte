<!-- The first page of an empty Heptad: whoever has the link becomes its first administrator. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import Frame from '$lib/enter/Frame.svelte';
	import NewPassword from '$lib/enter/NewPassword.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	let who = $state({ name: '', login: '', email: '', new: '' });
	const at = (field: string) => act.problem?.errors?.find((e) => e.place === `/${field}`)?.sentence;
	const whole = $derived(act.problem?.errors?.some((e) => e.place) ? undefined : act.problem);

	async function enter(event: SubmitEvent) {
		event.preventDefault();
		const token = page.params.token ?? '';
		// once somebody has moved in, reading the page anew leads to the list
		await act.run(() =>
			unwrap(
				api.POST('/api/entry/{token}', {
					params: { path: { token } },
					body: { ...who, email: who.email || undefined }
				})
			)
		);
	}
</script>

<Frame look={data.session.look} title="Move in">
	{#if data.trouble}
		<Trouble problem={data.trouble} />
	{:else}
		<p>
			Nobody is here yet. You become the first administrator; then a list leads you through the rest, and you
			can leave it and come back.
		</p>
		<form onsubmit={enter}>
			<Field label="Your name" problem={at('name')}>
				<!-- svelte-ignore a11y_autofocus (the one thing to do here) -->
				<input
					class="input"
					bind:value={who.name}
					autocomplete="name"
					maxlength="200"
					required
					autofocus
					data-field="name"
				/>
			</Field>
			<Field
				label="Login"
				hint="As it will stand in your list of people: that line becomes you."
				problem={at('login')}
			>
				<input
					class="input"
					bind:value={who.login}
					autocomplete="username"
					autocapitalize="none"
					spellcheck="false"
					maxlength="200"
					required
					data-field="login"
				/>
			</Field>
			<Field
				label="Mail address"
				hint="Optional. A forgotten password is set anew by it."
				problem={at('email')}
			>
				<input
					class="input"
					type="email"
					bind:value={who.email}
					autocomplete="email"
					maxlength="300"
					data-field="email"
				/>
			</Field>
			<NewPassword bind:value={who.new} problem={at('new')} login={who.login} />
			<Trouble problem={whole} />
			<div class="buttons">
				<button class="btn do" disabled={act.running} data-do="move-in">Move in</button>
			</div>
		</form>
	{/if}
</Frame>
