<!-- How people sign in here, and which roles need a second factor. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import { told } from '$lib/manage/words';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	let needs = $state(untrack(() => new Set(data.organisation.factorRoles ?? [])));
	const roles = [
		['administrator', 'Administrators'],
		['auditor', 'Auditors'],
		['analyst', 'Analysts'],
		['executive', 'Executives'],
		['caller-staff', 'Caller staff'],
		['owner', 'Owners of services'],
		['lead', 'Leads of teams']
	] as const;
	function tick(role: string, on: boolean) {
		needs = new Set(on ? [...needs, role] : [...needs].filter((r) => r !== role));
	}
	let byMail = $state(untrack(() => data.organisation.decideByMail ?? false));
	async function keep() {
		const kept = await act.run(() =>
			unwrap(
				api.PUT('/api/organisation', {
					body: { ...told(data.organisation), factorRoles: [...needs], decideByMail: byMail }
				})
			)
		);
		if (kept) void tell('Saved. It counts from the next signing in on.');
	}
</script>

<svelte:head><title>Sign-in · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<h1>Sign-in</h1>
	<p>
		People sign in with their login or mail address and a password of at least 12 letters; common ones are
		refused. Guessing is slowed, and locks nobody out. Who has none yet, or has forgotten it, has a link sent
		from the door{#if !data.moving.mail};
			<strong>for that a mail server is missing</strong>, which stands in the settings{/if}.
	</p>
	<h2>Who needs a second factor</h2>
	<p class="soft">Whoever has one of these roles sets it before anything else, the next time they sign in.</p>
	<ul>
		{#each roles as [role, name] (role)}
			<li>
				<label
					><input
						type="checkbox"
						class="checkbox"
						checked={needs.has(role)}
						onchange={(e) => tick(role, e.currentTarget.checked)}
						data-field={role}
					/>
					{name}</label
				>
			</li>
		{/each}
	</ul>
	<h2>Deciding by a link in a mail</h2>
	<label
		><input type="checkbox" class="checkbox" bind:checked={byMail} data-field="by-mail" />
		Whoever holds the link decides, without signing in</label
	>
	<p class="soft">
		Each link counts once, for one decision, and asks before it decides. What does something sensitive in
		another system always needs sign-in.
	</p>
	<Trouble problem={act.problem} />
	<button class="btn do" onclick={keep} disabled={act.running} data-do="save">Save</button>
</main>

<style>
	main {
		display: grid;
		gap: 0.75rem;
		align-content: start;
		justify-items: start;
	}
	h2 {
		margin-top: 0.75rem;
	}
	p {
		max-width: 46rem;
	}
	label {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		padding-block: 0.2rem;
	}
</style>
