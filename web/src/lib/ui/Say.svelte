<!-- A word on a request, for all who see it. -->
<script module lang="ts">
	/** Words typed so far, by request. */
	const words = $state<Record<string, string>>({});
</script>

<script lang="ts">
	import { api, asked } from '$lib/api/client';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';
	let { request }: { request: string } = $props();
	const act = new Act();

	async function say(e: SubmitEvent) {
		e.preventDefault();
		const done = await act.run(() =>
			asked(
				api.POST('/api/requests/{request}/words', {
					params: { path: { request } },
					body: { text: words[request] ?? '' }
				})
			)
		);
		if (done) delete words[request];
	}
</script>

<form onsubmit={say}>
	<input
		class="input"
		aria-label="Write to all who see this request"
		placeholder="Write to all who see this request"
		bind:value={words[request]}
		maxlength="2000"
		data-field="word"
	/>
	<button class="btn plain" disabled={act.running || !words[request]?.trim()}>Write</button>
</form>
<Trouble problem={act.problem} />

<style>
	form {
		display: flex;
		gap: 0.6rem;
		padding-block: 0.4rem;
	}
</style>
