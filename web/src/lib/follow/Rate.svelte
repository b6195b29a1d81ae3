<!-- How it went, in one act: a value is kept at once, and a word can follow. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Segments from '$lib/ui/Segments.svelte';
	import RatingAsks from './RatingAsks.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { at, ratingWords } from '$lib/words';

	let { request }: { request: Schema['RequestSheet'] } = $props();
	const act = new Act();
	const mine = $derived(request.mine);
	let text = $state(untrack(() => request.mine?.text ?? ''));
	async function rate(stars: number, answers = mine?.answers ?? {}) {
		const kept = await act.run(() =>
			unwrap(
				api.PUT('/api/requests/{request}/rating', {
					params: { path: { request: request.id } },
					body: { stars, text: text.trim(), answers }
				})
			)
		);
		if (kept) void tell(`Thank you: ${stars} of 5. You can change it until ${at(mine?.until ?? '')}.`);
	}
</script>

<div class="rate" data-rate={mine?.stars ?? ''}>
	<Segments
		label={mine ? 'How it went, as you said' : 'How did it go?'}
		shown
		value={String(mine?.stars ?? '') as '1'}
		choices={ratingWords}
		onpick={(stars) => void rate(Number(stars))}
	/>
	{#if mine}
		<RatingAsks
			asks={request.asks}
			answers={mine.answers ?? {}}
			onanswer={(question, stars) => void rate(mine.stars, { ...mine.answers, [question]: stars })}
		/>
		<form
			data-said={mine.text ?? ''}
			onsubmit={(e) => {
				e.preventDefault();
				void rate(mine.stars);
			}}
		>
			<input
				class="input"
				bind:value={text}
				maxlength="2000"
				placeholder="Why, if you like"
				aria-label="Why, if you like"
				data-field="why-rated"
			/>
			<button class="btn plain" disabled={act.running || text.trim() === (mine.text ?? '')} data-do="say-why"
				>Say so</button
			>
		</form>
	{/if}
	<Trouble problem={act.problem} />
</div>

<style>
	.rate {
		margin-top: 0.75rem;
		display: grid;
		gap: 0.5rem;
		justify-items: start;
	}
	form {
		display: flex;
		gap: 0.6rem;
		width: 100%;
		max-width: 32rem;
	}
	.input {
		flex: 1;
	}
</style>
