<!-- What a wish finds: offerings, their help and own requests in one list, and who reads it when nothing fits. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { list, standing } from '$lib/words';

	type Props = {
		/** What was looked for. */
		words: string;
		/** What stands in the line by now, which is what an offering is given. */
		typed: string;
		found: Schema['SearchAnswer'];
		onopen: (offering?: string) => void;
	};
	let { words, typed, found, onopen }: Props = $props();
	const carried = $derived(`?words=${encodeURIComponent(typed)}`);
	const by = (result: Schema['SearchResult']) =>
		result.by.length
			? `Found by ${list.format(result.by.map((w) => `“${w}”`))}.`
			: 'It sounds as if something does not work.';
</script>

<section aria-labelledby="found" aria-live="polite">
	<h2 id="found">
		{found.results.length ? `Found for “${words}”` : `Nothing here goes by “${words}”`}
	</h2>
	{#if found.note}<p class="problem">{found.note}</p>{/if}
	<ul>
		{#each found.results as result, i (i)}
			<li data-kind={result.kind}>
				{#if result.kind === 'offering' && result.offering?.picture}<img
						src={result.offering.picture}
						alt=""
					/>{/if}
				{#if result.kind === 'request' && result.request}
					<a href="/follow/{result.request.id}" data-result onclick={() => onopen()}>{result.request.title}</a
					>
					<span class="soft small"
						>Your request <span class="mono">{result.request.reference}</span>, {result.request.status ===
						'closed'
							? 'Closed'
							: standing(result.request)}</span
					>
				{:else if result.offering}
					{@const key = result.offering.key}
					{#if result.kind === 'article'}
						<a
							href="/ask/{key}{carried}&help={encodeURIComponent(result.article ?? '')}"
							data-result
							onclick={() => onopen(key)}>{result.article}</a
						>
						<span class="soft small">Help with {result.offering.name}</span>
						<p class="soft clip">{result.text}</p>
					{:else}
						<a href="/ask/{key}{carried}" data-result onclick={() => onopen(key)}>{result.offering.name}</a>
						<span class="soft small">{result.offering.area}, {result.offering.service}</span>
						<p class="soft">{result.offering.text}</p>
					{/if}
				{/if}
				<p class="soft small">{by(result)}</p>
			</li>
		{/each}
	</ul>
	<div class="instead">
		{#if found.instead}
			<p>
				{found.results.length ? 'None of these?' : 'Somebody can still help:'}
				<a
					href="/ask/{found.instead.key}{carried}"
					data-result
					data-do="send-words"
					onclick={() => onopen(found.instead?.key)}>Send your words to {found.instead.team}</a
				>
			</p>
		{/if}
		<p class="small">
			<a href="/ask">Look through everything</a> ·
			<a href="/find?words={encodeURIComponent(words)}" data-do="find-requests"
				>Find requests that go by “{words}”</a
			>
		</p>
	</div>
</section>

<style>
	ul > li {
		position: relative;
		padding-left: 3rem;
	}
	img {
		position: absolute;
		left: 0;
		width: 2.25rem;
		height: 2.25rem;
		margin-top: 0.1rem;
	}
	ul {
		margin-top: 0.5rem;
	}
	li {
		padding: 0.7rem 0;
		border-bottom: 1px solid var(--line);
		max-width: 48rem;
	}
	a[data-result] {
		font-weight: 600;
		font-size: 1rem;
	}
	.clip {
		display: -webkit-box;
		line-clamp: 2;
		-webkit-line-clamp: 2;
		-webkit-box-orient: vertical;
		overflow: hidden;
	}
	.instead {
		display: grid;
		gap: 0.4rem;
		padding-top: 0.9rem;
	}
</style>
