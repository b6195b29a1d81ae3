<!-- Who hears of a request beside those it concerns. -->
<script lang="ts">
	import { tell } from './told.svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import PersonPicker from './PersonPicker.svelte';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';

	type Props = { request: Schema['RequestSheet']; me: string; mayAdd: boolean };
	let { request, me, mayAdd }: Props = $props();
	const act = new Act();
	let adding = $state(false);

	async function add(person: string) {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/followers', {
					params: { path: { request: request.id } },
					body: { person }
				})
			)
		);
		if (done) adding = false;
	}
	const silence = (silent: boolean) =>
		act.run(() =>
			unwrap(
				api.PUT('/api/requests/{request}/silence', {
					params: { path: { request: request.id } },
					body: { silent }
				})
			)
		);
	async function drop(person: string, name: string) {
		const done = await act.run(() =>
			unwrap(
				api.DELETE('/api/requests/{request}/followers/{person}', {
					params: { path: { request: request.id, person } }
				})
			)
		);
		if (done) void tell(`${name} no longer hears of ${request.reference}.`, () => add(person));
	}
</script>

<h2 class="fact">Who hears of it</h2>
<ul>
	{#each request.followers as follower (follower.id)}
		<li>
			{follower.name}
			{#if mayAdd || follower.id === me}<button
					class="btn quiet small"
					onclick={() => drop(follower.id ?? '', follower.name)}
					aria-label="{follower.name} no longer hears of it">Remove</button
				>{/if}
		</li>
	{:else}
		<li class="soft">Those who ask, decide and do the work.</li>
	{/each}
</ul>
{#if request.allowed.includes('followMyself') && !request.followers.some((f) => f.id === me)}
	<button class="btn quiet small" onclick={() => add(me)} data-do="follow-myself">Hear of it myself</button>
{/if}
<button class="btn quiet small" onclick={() => silence(!request.silent)} data-do="silence"
	>{request.silent ? 'Hear of it again' : 'No more news of it'}</button
>
{#if request.silent}<p class="soft small">You are told only what waits for you.</p>{/if}
{#if adding}
	<PersonPicker control={{ id: 'follower', 'aria-label': 'Who else?' }} onpick={(p) => p && void add(p.id)} />
{:else if mayAdd && request.status !== 'closed'}
	<button class="btn quiet small" onclick={() => (adding = true)} data-do="add-follower">Add somebody</button>
{/if}
<Trouble problem={act.problem} />

<style>
	li {
		display: flex;
		justify-content: space-between;
		align-items: baseline;
		gap: 0.5rem;
	}
</style>
