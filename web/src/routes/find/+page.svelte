<!-- Find any request: where it stands, who holds it, what holds it up. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import Dial from '$lib/ui/Dial.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { list, minutes, slack, standing } from '$lib/words';

	let { data } = $props();
	let words = $derived(data.words);
	function look(e: SubmitEvent) {
		e.preventDefault();
		void goto(`/find?words=${encodeURIComponent(words.trim())}`, { keepFocus: true });
	}
</script>

<svelte:head><title>Find a request · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<h1>Find a request</h1>
	<form onsubmit={look}>
		<!-- svelte-ignore a11y_autofocus (one comes here to type) -->
		<input
			class="input"
			bind:value={words}
			aria-label="A reference, a person or words"
			placeholder="QS-10432-P, a name, or words of the title"
			maxlength="100"
			autofocus
			data-field="find-request"
		/>
		<button class="btn do">Find</button>
	</form>
	<Trouble problem={data.problem} />
	{#if data.words && !data.problem}
		<p class="soft small" role="status" data-found={data.found.length}>
			{#if data.found.length === 0}No request that you may see goes by these words.{:else if data.found.length === 30}The
				30 that changed last; more words find fewer.{:else}{data.found.length} found, the last changed first.{/if}
		</p>
	{:else if !data.words}
		<p class="soft">
			You find what you asked for or follow, what your teams work on, and all of the services that are yours.
			The letter at the end of a reference tells when it was mistyped.
		</p>
	{/if}
	<ul>
		{#each data.found as request (request.id)}
			<li>
				<Dial stages={request.stages} yours={request.yours} closed={request.status === 'closed'} />
				<div>
					<a href="/follow/{request.id}" data-result={request.reference}><strong>{request.title}</strong></a>
					<span class="soft small"
						><span class="mono">{request.reference}</span>, asked by {request.asker}</span
					>
				</div>
				<div>
					<strong class="stands">{standing(request)}</strong>
					{#if request.holders.length}<span class="small"
							>with {list.format([...new Set(request.holders.map((h) => h.name))])}</span
						>{/if}
				</div>
				<div class="small">
					{#if request.heldUp}
						Waits for {request.heldUp.what}{#if request.heldUp.since}, since <When
								time={request.heldUp.since}
							/>{/if}{#if request.heldUp.open > 0}&nbsp;({minutes(request.heldUp.open)} of working time){/if}
					{:else}<span class="soft">Nothing holds it up</span>{/if}
				</div>
				<div class="small">
					{#if request.forecast}
						Likely <When time={request.forecast.likely} absolute />
						{#if request.forecast.slack !== undefined}<span
								class="mono"
								class:late={request.forecast.slack < 0}>{slack(request.forecast.slack)}</span
							>{/if}
					{:else}<span class="soft">changed <When time={request.changedAt} /></span>{/if}
				</div>
			</li>
		{/each}
	</ul>
</main>

<style>
	main {
		--wide: 74rem;
	}
	form {
		display: flex;
		gap: 0.75rem;
		max-width: 40rem;
		margin-block: 0.8rem;
	}
	form .input {
		flex: 1;
	}
	li {
		display: grid;
		grid-template-columns: auto minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) minmax(0, 0.9fr);
		gap: 0.9rem;
		padding-block: 0.6rem;
		border-bottom: 1px solid var(--line);
		align-items: start;
	}
	li > div > :is(a, strong, span:only-of-type) {
		display: block;
	}
	.stands {
		font-weight: 600;
	}
	.late {
		color: var(--buoy-text);
		font-weight: 700;
	}
	@media (max-width: 800px) {
		li {
			grid-template-columns: auto minmax(0, 1fr);
		}
		li > div:nth-child(n + 3) {
			grid-column: 2;
		}
	}
</style>
