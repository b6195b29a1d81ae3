<!-- What is asked of another system, which whoever leads can correct. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Field from '$lib/ui/Field.svelte';

	type Props = { task: Schema['TaskSheet']; act: Act; path: { request: string; task: string } };
	let { task, act, path }: Props = $props();
	const params = $derived({ path });
	const may = (deed: (typeof task.allowed)[number]) => task.allowed.includes(deed);
	/** What is asked of another system, as its lead corrects it. */
	let correcting = $state<Record<string, string> | undefined>();
	let reasonToCorrect = $state('');
	async function correct() {
		const changed = Object.fromEntries(
			Object.entries(correcting ?? {}).filter(
				([key, text]) => task.calls?.find((c) => c.key === key)?.text !== text
			)
		);
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/tasks/{request}/{task}/correct', {
					params,
					body: { inputs: changed, reason: reasonToCorrect }
				})
			)
		);
		if (done) correcting = undefined;
	}
</script>

<section>
	<h2>What is asked for: {task.automatic}</h2>
	{#if correcting}
		{#each task.calls ?? [] as call (call.key)}
			<Field label={call.label}
				><textarea
					class="textarea"
					rows={(correcting[call.key] ?? '').length > 80 ? 3 : 1}
					bind:value={correcting[call.key]}
					data-input={call.key}></textarea></Field
			>
		{/each}
		<Field label="Why it is corrected"
			><input class="input" bind:value={reasonToCorrect} maxlength="2000" data-field="why-correct" /></Field
		>
		<div class="buttons">
			<button class="btn do" onclick={correct} disabled={act.running || !reasonToCorrect.trim()}
				>Correct and try again</button
			>
			<button class="btn quiet" onclick={() => (correcting = undefined)}>Leave as it is</button>
		</div>
	{:else}
		<Answers answers={task.calls ?? []} />
		{#if may('correct')}<button
				class="btn quiet small"
				onclick={() => {
					correcting = Object.fromEntries(task.calls?.map((c) => [c.key, c.text]) ?? []);
					reasonToCorrect = '';
				}}
				data-do="correct">Correct what is asked for</button
			>{/if}
	{/if}
</section>

<style>
	section {
		margin-top: 1.4rem;
	}
</style>
