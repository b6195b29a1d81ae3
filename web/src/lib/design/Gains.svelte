<!-- Who comes into a bundle and who goes out of it, and who gains and loses which offerings. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	type Props = { turned: Schema['TurnedBody']; fresh: boolean };
	let { turned, fresh }: Props = $props();
	const whole = $derived(turned.entries[0]);
	const offerings = $derived(turned.entries.slice(1));
	const several = (n: number) => (n === 1 ? 'one person' : `${n} people`);
	const named = (names: string[], n: number) =>
		names.join(', ') + (n > names.length ? `, and ${n - names.length} more` : '');
</script>

{#if whole}
	<section class="gains" aria-live="polite" data-ins={whole.ins} data-outs={whole.outs}>
		{#if whole.ins + whole.outs === 0}
			<p class="soft">Nobody comes in, and nobody goes out.</p>
		{:else}
			{#if whole.ins}<details>
					<summary><strong>{several(whole.ins)}</strong> {fresh ? 'would be in it' : 'would come in'}</summary
					>
					<p class="small">{named(whole.in, whole.ins)}</p>
				</details>{/if}
			{#if whole.outs}<details>
					<summary><strong>{several(whole.outs)}</strong> would go out</summary>
					<p class="small">{named(whole.out, whole.outs)}</p>
				</details>{/if}
			{#each offerings as o (o.offering)}
				<details data-turned={o.offering}>
					<summary
						><strong>{o.name}</strong>: {#if o.ins}{several(o.ins)} may ask for it from now on{/if}{#if o.ins && o.outs},
						{/if}{#if o.outs}{several(o.outs)} no longer may{/if}</summary
					>
					{#if o.ins}<p class="small">May: {named(o.in, o.ins)}</p>{/if}
					{#if o.outs}<p class="small">No longer: {named(o.out, o.outs)}</p>{/if}
				</details>
			{/each}
		{/if}
	</section>
{/if}

<style>
	.gains {
		border-left: 3px solid var(--brass);
		padding-left: 0.9rem;
		display: grid;
		gap: 0.35rem;
	}
	summary {
		cursor: pointer;
	}
</style>
