<!-- What went wrong, where the person looks, read out at once. -->
<script lang="ts">
	import type { Problem } from '$lib/api/client';
	let { problem }: { problem: Problem | undefined } = $props();
</script>

<div role="alert">
	{#if problem}
		<div class="box">
			<p>{problem.detail}</p>
			{#if problem.errors && problem.errors.length > 1}
				<ul>
					{#each problem.errors as error, i (i)}
						<li>{error.sentence}</li>
					{/each}
				</ul>
			{:else if problem.errors?.[0] && problem.errors[0].sentence !== problem.detail}
				<p>{problem.errors[0].sentence}</p>
			{/if}
		</div>
	{/if}
</div>

<style>
	.box {
		border-left: 4px solid var(--buoy);
		background: var(--buoy-wash);
		color: var(--ink);
		padding: 0.5rem 0.75rem;
	}
	ul {
		list-style: disc;
		padding-left: 1.2rem;
	}
</style>
