<!-- Automatic actions that staff start when they need them; with a task in hand, it ends in the same act. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	/** then: a task in the reader's hand that can end in the same act. */
	type Props = { request: string; runs: Schema['RunView'][]; then?: string };
	let { request, runs, then }: Props = $props();
	const act = new Act();
	let inputs = $state<Record<string, Record<string, string>>>({});
	let word = $state('');
	async function run(one: Schema['RunView'], ends: boolean) {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/run', {
					params: { path: { request } },
					body: {
						action: one.action,
						inputs: inputs[one.action] ?? {},
						...(ends ? { then, word } : {})
					}
				})
			)
		);
		if (!done) return;
		delete inputs[one.action];
		word = '';
		void tell(`${one.name}: started. What comes of it stands among the tasks.`);
	}
	const type = (action: string, key: string, text: string) =>
		(inputs[action] = { ...inputs[action], [key]: text });
</script>

{#if runs.length}
	<details class="small" data-runs>
		<summary>Run an action now</summary>
		{#each runs as one (one.action)}
			<form
				data-run={one.action}
				onsubmit={(e) => {
					e.preventDefault();
					void run(one, false);
				}}
			>
				<p><strong>{one.name}</strong> {one.text}</p>
				{#each one.asks as asked (asked.key)}
					<Field label={asked.name}>
						<input
							class="input"
							value={inputs[one.action]?.[asked.key ?? ''] ?? ''}
							oninput={(e) => type(one.action, asked.key ?? '', e.currentTarget.value)}
							maxlength="2000"
							data-input={asked.key}
						/>
					</Field>
				{/each}
				{#if then}
					<Field label="A word to who asked, if this ends your task">
						<input class="input" bind:value={word} maxlength="2000" data-field="run-word" />
					</Field>
				{/if}
				<div class="buttons">
					<button class="btn plain" disabled={act.running} data-do="run">Run now</button>
					{#if then}<button
							type="button"
							class="btn quiet"
							onclick={() => run(one, true)}
							disabled={act.running}
							data-do="run-and-end">Run, and end my task</button
						>{/if}
				</div>
			</form>
		{/each}
		<Trouble problem={act.problem} />
	</details>
{/if}

<style>
	details {
		margin-top: 1rem;
	}
	form {
		display: grid;
		gap: 0.5rem;
		padding: 0.5rem 0 0.5rem 1rem;
		border-bottom: 1px solid var(--line);
		max-width: 32rem;
	}
</style>
