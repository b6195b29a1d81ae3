<!-- How somebody signs in and where they are signed in; for an administrator, who helps when something is lost. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { person, name }: { person: string; name: string } = $props();
	const act = new Act();
	const params = $derived({ path: { person } });
	let safety = $state.raw<Schema['SafetyBody'] | undefined>();
	async function read() {
		safety = await unwrap(api.GET('/api/people/{person}/safety', { params }));
	}
	async function after(done: Promise<unknown>, words: string) {
		if ((await done) === undefined) return;
		await read();
		void tell(words);
	}
	const dropFactor = () =>
		after(
			act.run(() => unwrap(api.DELETE('/api/people/{person}/factor', { params })).then(() => true)),
			`${name} is told, and signs in without a second factor until they set another.`
		);
	const endAll = () =>
		after(
			act.run(() => unwrap(api.DELETE('/api/people/{person}/sessions', { params })).then(() => true)),
			`${name} is signed out everywhere.`
		);
</script>

<details ontoggle={(e) => e.currentTarget.open && void read()} data-signed-in>
	<summary>How they sign in</summary>
	{#if safety}
		<p>
			{safety.password ? 'They have a password' : 'They have no password here'}{#if safety.factor}
				and a second factor, with {safety.codes} recovery codes left{:else if safety.needed}
				and no second factor, which their role needs{/if}.
		</p>
		<ul>
			{#each safety.sessions as s (s.id)}
				<li>
					{s.device}
					<span class="soft small"
						>since <When time={s.begun} absolute />, last used <When time={s.used} /></span
					>
				</li>
			{:else}<li class="soft">They are signed in nowhere.</li>{/each}
		</ul>
		<Trouble problem={act.problem} />
		<div class="buttons">
			{#if safety.sessions.length}<button
					type="button"
					class="btn plain"
					onclick={endAll}
					disabled={act.running}
					data-do="end-all">Sign them out everywhere</button
				>{/if}
			{#if safety.factor}<button
					type="button"
					class="btn plain"
					onclick={dropFactor}
					disabled={act.running}
					data-do="drop-factor">They have lost the second factor: take it away</button
				>{/if}
		</div>
	{/if}
</details>

<style>
	summary {
		cursor: pointer;
		font-weight: 600;
	}
	details[open] {
		display: grid;
		gap: 0.5rem;
	}
	ul {
		margin-block: 0.25rem;
	}
</style>
