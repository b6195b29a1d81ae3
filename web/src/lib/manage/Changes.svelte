<!-- What has changed of something: each field with what it was and what it is. -->
<script lang="ts">
	type Change = { field: string; before?: string; after?: string };
	type Props = { changes: Change[]; name?: (field: string) => string };
	let { changes, name = (field) => field }: Props = $props();
</script>

<span class="changes small"
	>{#each changes as c, i (i)}<span class="change"
			><span class="soft">{name(c.field)}:</span>
			{#if c.before}<del>{c.before}</del>
				<span aria-hidden="true">→</span>{/if}
			{c.after || 'nothing'}</span
		>
	{/each}</span
>

<style>
	.changes {
		display: flex;
		flex-wrap: wrap;
		column-gap: 0.9rem;
		overflow-wrap: anywhere;
	}
	del {
		color: var(--ink-soft);
	}
</style>
