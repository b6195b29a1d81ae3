<!-- My profile: how I prove who I am, and where I am signed in. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import NewPassword from '$lib/enter/NewPassword.svelte';
	import Profile from '$lib/enter/Profile.svelte';
	import SecondFactor from '$lib/enter/SecondFactor.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const safety = $derived(data.safety);
	let changing = $state(false);
	let password = $state('');
	const problem = $derived(act.problem?.errors?.find((e) => e.place === '/new')?.sentence);

	async function setPassword(event: SubmitEvent) {
		event.preventDefault();
		const kept = await act.run(() => unwrap(api.PUT('/api/me/password', { body: { new: password } })));
		if (!kept) return;
		[changing, password] = [false, ''];
		void tell('Your password is changed. Your other sessions have ended.');
	}
	const end = (session?: Schema['HeldView']) =>
		act.run(() => unwrap(api.DELETE('/api/me/sessions', { params: { query: { id: session?.id } } })));
</script>

<svelte:head><title>My profile · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<h1>My profile</h1>
	{#if data.session.bound}
		<p class="first" role="status">Your role needs a second factor: set one, then you can go on.</p>
	{/if}
	<div class="parts">
		<section class="tall">
			<h2>For those who work for you</h2>
			<p class="soft small">
				Whoever has a task for you sees this beside your name, as long as it is open; nobody else does.
			</p>
			<Profile profile={data.profile} />
		</section>
		<section>
			<h2>How you are told</h2>
			<p class="soft">Which messages you get, in the list or by mail.</p>
			<a href="/messages#ways">Choose</a>
		</section>
		<section>
			<h2>Password</h2>
			{#if !safety.password}
				<p class="soft">
					You have none{#if data.session.demo}: on the demo one signs in by choosing a person{/if}.
				</p>
			{:else if changing}
				<form onsubmit={setPassword}>
					<NewPassword bind:value={password} {problem} />
					<Trouble problem={problem ? undefined : act.problem} />
					<div class="buttons">
						<button class="btn do" disabled={act.running} data-do="set-password">Change it</button>
						<button type="button" class="btn plain" onclick={() => (changing = false)}
							>Leave it as it is</button
						>
					</div>
				</form>
			{:else}
				<button class="btn plain" onclick={() => (changing = true)} data-do="change-password"
					>Change my password</button
				>
			{/if}
		</section>
		<section>
			<h2>Second factor</h2>
			{#if safety.password || safety.factor}<SecondFactor {safety} />
			{:else}<p class="soft">It goes with a password; you sign in without one.</p>{/if}
		</section>
		<section class="wide">
			<h2>Where you are signed in</h2>
			{#if !changing}<Trouble problem={act.problem} />{/if}
			<ul>
				{#each safety.sessions as s (s.id)}
					<li data-session={s.this ? 'this' : s.id}>
						<strong>{s.device}</strong>
						<span class="soft">since <When time={s.begun} absolute />, last used <When time={s.used} /></span>
						{#if s.this}<span class="kelp">this one</span>
						{:else}<button class="btn quiet" onclick={() => end(s)} disabled={act.running}>End it</button
							>{/if}
					</li>
				{/each}
			</ul>
			{#if safety.sessions.length > 1}<button
					class="btn plain"
					onclick={() => end()}
					disabled={act.running}
					data-do="end-others">End all others</button
				>{/if}
		</section>
	</div>
</main>

<style>
	.first {
		border-left: 4px solid var(--buoy);
		background: var(--buoy-wash);
		padding: 0.5rem 0.75rem;
		margin-block: 0.75rem;
	}
	@media (min-width: 56rem) {
		.tall {
			grid-row: span 3;
		}
	}
	.parts {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(min(22rem, 100%), 1fr));
		gap: 1.75rem 2.5rem;
		margin-top: 1rem;
		max-width: 62rem;
	}
	section {
		display: grid;
		gap: 0.6rem;
		align-content: start;
		justify-items: start;
		border-top: 1px solid var(--line);
		padding-top: 0.6rem;
	}
	.wide {
		grid-column: 1 / -1;
	}
	form {
		display: grid;
		gap: 0.7rem;
		width: 100%;
		max-width: 26rem;
	}
	ul {
		width: 100%;
	}
	li {
		display: flex;
		gap: 0.75rem;
		align-items: baseline;
		flex-wrap: wrap;
		padding-block: 0.3rem;
		border-bottom: 1px solid var(--line);
	}
	.kelp {
		color: var(--kelp-text);
		font-weight: 600;
	}
</style>
