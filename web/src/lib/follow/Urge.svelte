<!-- The asker asks for more urgency: what each speed costs, who decides, and when it would be due. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Price from '$lib/ui/Price.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { at, list } from '$lib/words';

	type Props = { open: boolean; request: Schema['RequestSheet']; act: Act };
	let { open = $bindable(), request, act }: Props = $props();
	const path = $derived({ path: { request: request.id } });
	let speeds = $state.raw<Schema['SpeedView'][] | undefined>();
	let choice = $state('');
	let reason = $state('');
	$effect(() => {
		if (!open) return;
		void unwrap(api.GET('/api/requests/{request}/speeds', { params: path })).then(
			(found) => {
				speeds = found.entries;
				choice = found.entries.find((s) => !s.trouble)?.choice ?? '';
			},
			() => (speeds = [])
		);
	});
	async function urge() {
		const done = await act.run(() =>
			unwrap(api.POST('/api/requests/{request}/urge', { params: path, body: { choice, reason } }))
		);
		if (done) open = false;
	}
</script>

<Dialog bind:open title="Is it more urgent?">
	{#each speeds ?? [] as speed (speed.choice)}
		<label class="speed" class:soft={speed.trouble}
			><input
				type="radio"
				class="radio"
				name="speed"
				value={speed.choice}
				bind:group={choice}
				disabled={Boolean(speed.trouble)}
				data-speed={speed.choice}
			/>
			<span
				><strong>{speed.label}</strong><br />
				{#if speed.trouble}{speed.trouble}{:else}
					<Price price={speed.price} />{#if speed.decided.length}, once {list.format(speed.decided)} said yes{:else if speed.due},
						due {at(speed.due)}{/if}
				{/if}</span
			></label
		>
	{:else}
		<p class="soft">{speeds ? 'There is no other speed to choose.' : 'Working it out …'}</p>
	{/each}
	<Field label="Why, if you like"
		><input class="input" bind:value={reason} maxlength="2000" data-field="why-urgent" /></Field
	>
	<p class="soft small">It counts from the yes on. What has begun goes on meanwhile.</p>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" data-do="urge-now" onclick={urge} disabled={!choice || act.running}
			>Ask for it</button
		>
		<button class="btn plain" onclick={() => (open = false)}>Leave it</button>
	</div>
</Dialog>

<style>
	.speed {
		display: flex;
		gap: 0.6rem;
		align-items: start;
		padding-block: 0.3rem;
	}
</style>
