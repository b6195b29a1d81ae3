<!-- A new password, by a mailed link. -->
<script lang="ts">
	import { page } from '$app/state';
	import { api, unwrap } from '$lib/api/client';
	import Frame from '$lib/enter/Frame.svelte';
	import NewPassword from '$lib/enter/NewPassword.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	let password = $state('');
	let done = $state(false);
	const problem = $derived(act.problem?.errors?.find((e) => e.place === '/new')?.sentence);

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const token = page.params.token ?? '';
		const kept = await act.run(() =>
			unwrap(api.POST('/api/new-password/{token}', { params: { path: { token } }, body: { new: password } }))
		);
		if (kept) done = true;
	}
</script>

<Frame look={data.session.look} title="A new password">
	{#if done}
		<p role="status">It is set, and every session of before has ended.</p>
		<p><a href="/">Sign in</a></p>
	{:else if data.whose}
		<form onsubmit={keep}>
			<p>For {data.whose.name}, who signs in as <strong>{data.whose.login}</strong>.</p>
			<NewPassword bind:value={password} {problem} login={data.whose.login} />
			<Trouble problem={problem ? undefined : act.problem} />
			<div class="buttons"><button class="btn do" disabled={act.running} data-do="keep">Set it</button></div>
		</form>
	{:else}
		<Trouble problem={data.trouble} />
		<p><a href="/">To the door</a></p>
	{/if}
</Frame>
