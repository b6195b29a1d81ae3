<!-- Several wishes on one slip: looked through, named, and sent at once. -->
<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Price from '$lib/ui/Price.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { list } from '$lib/words';

	let { data } = $props();
	const act = new Act();
	const wishes = $derived(data.slip.entries);
	const ready = $derived(wishes.filter((w) => !w.trouble));
	let typed = $state('');
	const usual = $derived(
		wishes.length > 1 ? `${wishes[0]?.name} and ${wishes.length - 1} more` : (wishes[0]?.name ?? '')
	);
	const title = $derived(typed.trim() || usual);
	let sent = $state.raw<Schema['SentWish'][]>([]);
	const gone = $derived(sent.filter((s) => s.request));

	async function send() {
		const out = await act.run(() => unwrap(api.POST('/api/slip', { body: { title } })));
		if (!out) return;
		[sent, typed] = [out.entries, ''];
		await invalidateAll();
	}
	async function takeOff(wish: Schema['SlipWishView'], then: 'change' | 'leave') {
		const off = await act.run(() =>
			unwrap(api.DELETE('/api/slip/drafts/{draft}', { params: { path: { draft: wish.draft } } }))
		);
		if (!off) return;
		if (then === 'change') await goto(`/ask/${wish.offering}`, { invalidateAll: true });
		else await invalidateAll();
	}
</script>

<svelte:head><title>Your slip · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<section>
		<h1>Your slip</h1>
		{#if sent.length}
			<div class="sent" role="status" data-sent={gone.length}>
				{#if gone.length}
					<p>
						<strong>{gone.length === 1 ? 'One wish is' : `${gone.length} wishes are`} sent.</strong>
						Each goes its own way; you follow them all.
					</p>
					<ul>
						{#each gone as wish (wish.request)}
							<li>
								<a href="/follow/{wish.request}"
									><span class="mono" data-reference>{wish.reference}</span> {wish.name}</a
								>
							</li>
						{/each}
					</ul>
				{/if}
				{#if gone.length < sent.length}
					<p>
						{sent.length - gone.length === 1 ? 'One stays' : `${sent.length - gone.length} stay`} on the slip: see
						below why.
					</p>
				{/if}
			</div>
		{/if}
		{#if wishes.length}
			<p class="soft">Each becomes a request of its own, with its own decisions and work.</p>
			<ul class="wishes">
				{#each wishes as wish (wish.draft)}
					<li data-wish={wish.offering} class:trouble={wish.trouble}>
						<div>
							<strong>{wish.name}</strong>{#if wish.for}, for {wish.for}{/if}
							<p class="soft small">
								<Price price={wish.price} />{#if wish.decisions.length}
									· decided by {list.format([...new Set(wish.decisions)])}{/if}
							</p>
							{#if wish.trouble}<p class="why" data-trouble>{wish.trouble}</p>{/if}
						</div>
						<span class="buttons">
							<button class="btn plain" onclick={() => takeOff(wish, 'change')} disabled={act.running}
								>Change it</button
							>
							<button class="btn quiet" onclick={() => takeOff(wish, 'leave')} disabled={act.running}
								>Take it off</button
							>
						</span>
					</li>
				{/each}
			</ul>
			<form
				onsubmit={(e) => {
					e.preventDefault();
					void send();
				}}
			>
				<Field
					label="What holds them together"
					hint="You and who decides read it: such as New colleague in October."
				>
					<input
						class="input"
						bind:value={typed}
						placeholder={usual}
						maxlength="120"
						data-field="slip-title"
					/>
				</Field>
				<Trouble problem={act.problem} />
				<div class="buttons">
					<button class="btn do" disabled={act.running || !ready.length} data-do="send-slip"
						>{ready.length === 0
							? 'Nothing can be sent yet'
							: `Send ${ready.length === 1 ? 'one wish' : `${ready.length} wishes`}`}</button
					>
					<a class="btn quiet" href="/ask">Ask for something else, too</a>
				</div>
			</form>
		{:else if !sent.length}
			<p class="soft">
				Nothing is on it. In a form, choose <em>Put on my slip</em>, and send several wishes at once.
				<a href="/ask">Ask for something</a>
			</p>
		{/if}
	</section>
</main>

<style>
	.sent {
		border-left: 4px solid var(--kelp);
		padding: 0.4rem 0.75rem;
		margin-bottom: 1rem;
		background: var(--sound-wash);
	}
	.wishes li {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		align-items: center;
		gap: 0.5rem 1rem;
		padding-block: 0.6rem;
		border-bottom: 1px solid var(--line);
	}
	.trouble {
		border-left: 4px solid var(--buoy);
		padding-left: 0.75rem;
	}
	.why {
		color: var(--buoy-text);
	}
	form {
		display: grid;
		gap: 0.75rem;
		margin-top: 1rem;
		max-width: 32rem;
	}
</style>
