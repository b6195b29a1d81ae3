<!-- Who of the company is in an audience, and why: those in it, those out of it, or anybody by name. -->
<script lang="ts">
	import type { Snippet } from 'svelte';
	import { Refused, type Schema } from '$lib/api/client';
	import Person from '$lib/ui/Person.svelte';
	import Segments from '$lib/ui/Segments.svelte';

	type Props = {
		/** Which audience it is; asked anew when it changes. */
		of: string;
		/** Asks for those behind so many. */
		ask: (words: string, out: boolean, after: number) => Promise<Schema['SurveyBody']>;
		heading: Snippet;
	};
	let { of, ask, heading }: Props = $props();
	let words = $state('');
	let side = $state<'in' | 'out'>('in');
	let found = $state.raw<Schema['SurveyBody'] | undefined>();
	let trouble = $state('');
	let asking = 0;

	$effect(() => {
		void of;
		const [typed, out] = [words.trim(), side === 'out'];
		const pause = setTimeout(() => void survey(typed, out), typed ? 150 : 0);
		return () => clearTimeout(pause);
	});
	async function survey(typed: string, out: boolean, before: Schema['SurveyBody']['entries'] = []) {
		const mine = ++asking;
		try {
			const got = await ask(typed, out, before.length);
			if (mine === asking) [found, trouble] = [{ ...got, entries: [...before, ...got.entries] }, ''];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (mine === asking) [found, trouble] = [undefined, refused.problem.detail];
		}
	}
</script>

<section class="survey" aria-label="Who is in">
	<h2>
		{@render heading()}
		{#if found}<span class="count" role="status" data-count={found.in}>{found.in} of {found.of} people</span
			>{/if}
	</h2>
	{#if trouble}<p class="problem">{trouble}</p>{/if}
	<div class="find">
		<input
			class="input"
			bind:value={words}
			maxlength="100"
			placeholder="Why is somebody in or out? Type a name"
			aria-label="Find a person"
		/>
		{#if found}<Segments
				label="Who is listed"
				value={side}
				choices={[
					['in', `in (${found.in})`],
					['out', `out (${found.of - found.in})`]
				]}
				onpick={(which) => (side = which)}
			/>{/if}
	</div>
	<ul>
		{#each found?.entries ?? [] as v (v.person)}
			<li data-verdict={v.in}>
				<span class="verdict">{v.in ? 'in' : 'out'}</span>
				<span
					><Person name={v.name} note={v.where} />{#if words}<br /><span class="small">{v.reason}</span
						>{/if}</span
				>
			</li>
		{:else}
			{#if found}<li class="none soft">Nobody.</li>{/if}
		{/each}
		{#if found?.more}<li class="none">
				<button
					class="btn quiet small"
					onclick={() => void survey(words.trim(), side === 'out', found?.entries)}
					data-do="more-people">More, of {found.more} that are left</button
				>
			</li>{/if}
	</ul>
</section>

<style>
	.survey {
		border-top: 2px solid var(--ink);
		padding-top: 0.75rem;
	}
	h2 {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		align-items: center;
	}
	.count {
		font-weight: 700;
		color: var(--sound);
	}
	.find {
		display: flex;
		gap: 1rem;
		align-items: center;
		margin-block: 0.5rem;
	}
	.find .input {
		flex: 1;
	}
	li {
		display: grid;
		grid-template-columns: 2.2rem minmax(0, 1fr);
		padding: 0.2rem 0;
		border-bottom: 1px solid var(--line);
	}
	li.none {
		display: block;
	}
	.verdict {
		font-family: var(--mono);
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
</style>
