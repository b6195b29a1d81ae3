<!-- The pages of a table, by number. -->
<script lang="ts">
	import { Pagination } from '@skeletonlabs/skeleton-svelte';
	type Props = { label: string; count: number; size: number; at: number; onturn: (page: number) => void };
	let { label, count, size, at, onturn }: Props = $props();
</script>

<Pagination
	{count}
	pageSize={size}
	page={at}
	onPageChange={(now) => onturn(now.page)}
	class="pages"
	aria-label="Pages of {label}"
>
	<Pagination.PrevTrigger class="btn quiet">Back</Pagination.PrevTrigger>
	<Pagination.Context>
		{#snippet children(pagination)}
			{#each pagination().pages as page, i (i)}
				{#if page.type === 'page'}
					<Pagination.Item {...page} class="page">{page.value}</Pagination.Item>
				{:else}<Pagination.Ellipsis index={i} class="page-gap">…</Pagination.Ellipsis>{/if}
			{/each}
		{/snippet}
	</Pagination.Context>
	<Pagination.NextTrigger class="btn quiet">Next</Pagination.NextTrigger>
</Pagination>

<style>
	:global(.pages) {
		margin-top: 0.5rem;
		padding: 0;
		gap: 0.25rem;
		align-items: center;
		border: 0;
		outline: none;
		box-shadow: none;
	}
	:global(.page) {
		min-width: 2rem;
		padding: 0.2rem 0.4rem;
		border-radius: 0;
		background: none;
		color: var(--ink);
		font: 0.875rem var(--mono);
		border-bottom: 3px solid transparent;
	}
	:global(.page[data-selected]) {
		color: var(--ink);
		background: var(--sound-wash);
		border-bottom-color: var(--sound);
		font-weight: 700;
	}
	:global(.page-gap) {
		background: none;
		color: var(--ink-soft);
	}
</style>
