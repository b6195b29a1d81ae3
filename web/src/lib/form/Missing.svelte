<!-- What is still missing before a form can be sent; each leads to its question. -->
<script lang="ts">
	type Open = { key: string; sentence: string };
	let { open, onjump }: { open: Open[]; onjump: (key: string) => void } = $props();
</script>

<div class="missing" data-missing={open.length}>
	<p class="eyebrow">
		{open.length === 1
			? 'One thing is missing before you can send'
			: `${open.length} things are missing before you can send`}
	</p>
	<ul>
		{#each open as problem, i (i)}
			<li>
				<button type="button" class="btn quiet" onclick={() => onjump(problem.key)}>{problem.sentence}</button
				>
			</li>
		{/each}
	</ul>
</div>

<style>
	.missing {
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
	}
	.missing .btn {
		padding: 0.1rem 0;
		text-align: left;
		white-space: normal;
		font-weight: 400;
	}
</style>
