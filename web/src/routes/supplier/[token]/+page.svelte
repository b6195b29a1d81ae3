<!-- What a supplier outside was asked to do, and their answer, without signing in. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import { api, unwrap, Refused, type Problem } from '$lib/api/client';
	import Segments from '$lib/ui/Segments.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const states = [
		['begun', 'We have begun'],
		['done', 'It is done'],
		['refused', 'We cannot do it']
	] as const;
	let answer = $state<{ state: (typeof states)[number][0]; number: string; day: string; words: string }>({
		state: 'done',
		number: '',
		day: '',
		words: ''
	});
	let running = $state(false);
	let said = $state(false);
	let problem = $state.raw<Problem | undefined>();

	async function send(e: SubmitEvent) {
		e.preventDefault();
		running = true;
		problem = undefined;
		try {
			await unwrap(
				api.POST('/api/supplier/{token}', { params: { path: { token: data.token } }, body: { ...answer } })
			);
			said = true;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			problem = refused.problem;
		}
		running = false;
	}
</script>

<svelte:head><title>{data.task.subject} · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<p class="eyebrow mono">{data.task.reference}</p>
	<h1>{data.task.subject}</h1>
	<p class="text">{data.task.text}</p>
	{#if said}
		<p class="now" role="status" data-said>Thank you. We know it now.</p>
		{#if answer.state === 'begun'}<p>Open the link of the mail again once it is done.</p>{/if}
	{:else if data.task.trouble}
		<p class="now" data-trouble>{data.task.trouble}</p>
	{:else}
		<form onsubmit={send}>
			<Segments
				shown
				label="Your answer"
				value={answer.state}
				choices={states}
				onpick={(state) => (answer.state = state)}
			/>
			{#if answer.state !== 'refused'}
				<Field label="Your own number for it, if there is one"
					><input class="input" bind:value={answer.number} maxlength="60" data-field="number" /></Field
				>
				<Field several label={answer.state === 'done' ? 'Done on' : 'Done by'}>
					<DateField
						value={answer.day}
						label={answer.state === 'done' ? 'Done on' : 'Done by'}
						onday={(day) => (answer.day = day ?? '')}
					/>
				</Field>
			{/if}
			<Field label={answer.state === 'refused' ? 'Why' : 'Anything else'}
				><textarea class="textarea" rows="3" bind:value={answer.words} maxlength="2000"></textarea></Field
			>
			<Trouble {problem} />
			<button class="btn do" disabled={running}>Answer</button>
		</form>
	{/if}
</main>

<style>
	main {
		max-width: 40rem;
		margin: 2rem auto;
		padding: 0 1rem;
	}
	.text {
		white-space: pre-line;
		margin-block: 0.8rem;
	}
	.now {
		font: 600 1.1875rem var(--heading);
	}
	form {
		display: grid;
		gap: 0.8rem;
		justify-items: start;
	}
</style>
