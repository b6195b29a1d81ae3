<!-- What needs care among the people: who waits to become inactive, and what nobody answers for any more. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import When from '$lib/ui/When.svelte';
	import { kinds, type Kind } from './words';

	type Props = { care: Schema['CareBody']; running: boolean; onanswer: (yes: boolean) => void };
	let { care, running, onanswer }: Props = $props();
	const many = 12;
</script>

{#if care.leaving.length}
	<section class="care" data-leaving={care.leaving.length}>
		<h2>{care.leaving.length} people are to become inactive, and wait for a yes</h2>
		<p>
			That is more than usual in a day. {care.leaving[0]?.by} has said so
			<When time={care.leaving[0]?.since ?? ''} />. Until you answer they can sign in and work as before.
		</p>
		<p class="soft">
			{care.leaving
				.slice(0, many)
				.map((l) => l.name)
				.join(', ')}{#if care.leaving.length > many}, and {care.leaving.length - many} more{/if}.
		</p>
		<div class="buttons">
			<button class="btn do" disabled={running} onclick={() => onanswer(true)} data-do="let-leave"
				>Yes, they have left</button
			>
			<button class="btn plain" disabled={running} onclick={() => onanswer(false)} data-do="keep-active"
				>No, keep them</button
			>
		</div>
	</section>
{/if}
{#if care.ownerless.length}
	<section class="care">
		<h2>Who answered for this has left</h2>
		<ul>
			{#each care.ownerless as duty (duty.kind + duty.id)}
				<li>
					<a href="/manage/company/{duty.kind}?one={encodeURIComponent(duty.id)}">{duty.name}</a>
					<span class="soft">{kinds[duty.kind as Kind].one}</span>
				</li>
			{/each}
		</ul>
	</section>
{/if}

<style>
	.care {
		border-left: 4px solid var(--brass);
		background: var(--brass-wash);
		padding: 0.6rem 0.9rem;
		margin-block: 0.75rem;
		display: grid;
		gap: 0.4rem;
		max-width: 60rem;
	}
</style>
