<!-- Before sending: troubles that many have, in the words of staff. Who has one joins it, and need not send. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { faults }: { faults: Schema['FaultView'][] } = $props();
	const act = new Act();
	let joined = $state<Record<string, boolean>>({});
	let line = $state<Record<string, string>>({});
	const has = (fault: Schema['FaultView']) => fault.touches + (joined[fault.id] && !fault.mine ? 1 : 0);
	async function join(fault: string) {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/faults/{request}/join', {
					params: { path: { request: fault } },
					body: { line: line[fault] ?? '' }
				})
			)
		);
		if (done) joined[fault] = true;
	}
</script>

{#if faults.length}
	<aside aria-label="Known already" data-faults>
		<h2>Is it this? It is known already</h2>
		{#each faults as fault (fault.id)}
			<div class="fault" data-fault={fault.id}>
				<p>
					<strong>{fault.sentence}</strong>
					<span class="soft small">{has(fault)} {has(fault) === 1 ? 'person has' : 'people have'} it</span>
				</p>
				{#if joined[fault.id] || fault.mine}
					<p role="status" data-joined>
						You have joined: you hear how it ends, and need not send anything.
						<a href="/follow/have">See what you have joined</a>
					</p>
				{:else}
					<form
						onsubmit={(e) => {
							e.preventDefault();
							void join(fault.id);
						}}
					>
						<input
							class="input"
							bind:value={line[fault.id]}
							maxlength="500"
							placeholder="How it is with you, if you like"
							aria-label="How it is with you, if you like"
							data-field="line"
						/>
						<button class="btn plain" disabled={act.running} data-do="join">I have this, too</button>
					</form>
				{/if}
			</div>
		{/each}
		<Trouble problem={act.problem} />
	</aside>
{/if}

<style>
	aside {
		border-left: 4px solid var(--buoy);
		padding: 0.5rem 0.75rem;
		margin-bottom: 1rem;
	}
	h2 {
		font-size: 1rem;
	}
	.fault {
		padding-block: 0.4rem;
	}
	form {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		margin-top: 0.3rem;
	}
	.input {
		flex: 1;
		min-width: 14rem;
	}
</style>
