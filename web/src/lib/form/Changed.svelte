<!-- What has changed in what the asker agrees to, while they were writing. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	let { before, now }: { before: Schema['Evaluation']; now: Schema['Evaluation'] } = $props();
</script>

<div class="changed" role="alert" data-changed>
	<p>
		<strong>This has changed while you were writing.</strong> Look at the slip, and send again if you agree.
	</p>
	<p>
		First year: <s>{before.price.firstYear.amount}</s>
		<strong>{now.price.firstYear.amount} {now.price.firstYear.currency}</strong>. Decisions: {now.decisions
			.length || 'none'}{#if before.decisions.length !== now.decisions.length}<span>&nbsp;instead of</span>
			{before.decisions.length || 'none'}{/if}.
	</p>
</div>

<style>
	.changed {
		border-left: 4px solid var(--brass);
		background: var(--brass-wash);
		padding: 0.5rem 0.75rem;
		margin-block: 0.5rem;
	}
</style>
