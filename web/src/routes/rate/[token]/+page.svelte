<!-- How it went, from a mail, without signing in: the value is chosen, and nothing is kept before it is sent. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import RatingAsks from '$lib/follow/RatingAsks.svelte';
	import Segments from '$lib/ui/Segments.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { ratingWords } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const rating = $derived(data.rating);
	let stars = $state(untrack(() => data.stars || data.rating.stars || 0));
	let text = $state(untrack(() => data.rating.text ?? ''));
	let answers = $state(untrack(() => ({ ...data.rating.answers })));
	let done = $state(false);
	async function send(event: SubmitEvent) {
		event.preventDefault();
		done = Boolean(
			await act.run(() =>
				unwrap(
					api.POST('/api/rate/{token}', {
						params: { path: { token: data.token } },
						body: { stars, text: text.trim(), answers }
					})
				)
			)
		);
	}
</script>

<svelte:head><title>How it went · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<p class="eyebrow mono">{rating.reference}</p>
	<h1>{rating.title}</h1>
	{#if done}
		<p class="over" role="status" data-done>Thank you, {rating.person}: {stars} of 5.</p>
		<p>You can close this page, or change it by the same link for fourteen days.</p>
	{:else if rating.trouble}
		<p class="over" data-trouble>{rating.trouble}</p>
		<p><a href="/">Sign in</a></p>
	{:else}
		<form onsubmit={send}>
			<Segments
				label="How did it go, {rating.person}?"
				shown
				value={String(stars || '') as '1'}
				choices={ratingWords}
				onpick={(value) => (stars = Number(value))}
			/>
			<RatingAsks
				asks={rating.asks}
				{answers}
				onanswer={(question, value) => (answers = { ...answers, [question]: value })}
			/>
			<label for="why">Why, if you like</label>
			<textarea id="why" class="textarea" rows="2" bind:value={text} maxlength="2000"></textarea>
			<Trouble problem={act.problem} />
			<button class="btn do" disabled={act.running || !stars} data-do="rate">Send</button>
		</form>
	{/if}
</main>

<style>
	main {
		max-width: 40rem;
		margin: 2rem auto;
		padding: 1.5rem 1.75rem;
		background: var(--panel);
		outline: none;
	}
	.over {
		font-weight: 600;
		padding-block: 0.8rem;
	}
	form {
		display: grid;
		gap: 0.6rem;
		margin-top: 1rem;
		justify-items: start;
	}
	.textarea {
		width: 100%;
	}
</style>
