<!-- On every screen of an installation for trying: that nothing is real, and as whom a tester acts. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from './act.svelte';
	import PersonPicker from './PersonPicker.svelte';
	import Trouble from './Trouble.svelte';
	type Session = Schema['SessionBody'];
	let { trial, person }: { trial: NonNullable<Session['trial']>; person: Session['person'] } = $props();
	const act = new Act();
	/** The whole page is read anew: all on it was somebody else's. */
	const as = (login: string) =>
		act.run(async () => {
			await unwrap(api.POST('/api/session/as', { body: { login } }));
			location.assign('/ask');
		});
</script>

<aside class="trial" aria-label="A trial" data-trial>
	<p>
		<strong>A trial.</strong> Nothing here is real, and nothing leaves it.
		{#if trial.tester && person}<span data-acting={person.name}
				>{trial.tester} acts as <strong>{person.name}</strong>.
				<button class="btn quiet small" onclick={() => void as(trial.login ?? '')} data-do="be-oneself"
					>Be yourself again</button
				></span
			>{/if}
	</p>
	{#if trial.tests && person}
		<span class="as">
			<label for="act-as">Act as</label>
			<PersonPicker
				control={{ id: 'act-as', 'data-field': 'act-as' }}
				onpick={(p) => p && void as(p.login)}
			/>
		</span>
		<a href="/trial">Mails that would have gone out</a>
	{/if}
	<Trouble problem={act.problem} />
</aside>

<style>
	.trial {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.3rem 1rem;
		padding: 0.25rem 1rem;
		background: repeating-linear-gradient(-45deg, var(--brass-wash) 0 10px, var(--paper) 10px 20px);
		border-bottom: 2px solid var(--brass);
	}
	p {
		margin: 0;
	}
	.as {
		display: grid;
		grid-template-columns: auto 14rem;
		align-items: center;
		gap: 0.5rem;
	}
</style>
