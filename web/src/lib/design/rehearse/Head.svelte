<!-- The request at the instant one looks at: how far it is, whose turn it is, its clock and its plan. -->
<script lang="ts">
	import Dial from '$lib/ui/Dial.svelte';
	import PlanChart from '$lib/ui/PlanChart.svelte';
	import PromiseLine from '$lib/ui/PromiseLine.svelte';
	import { standing, list } from '$lib/words';
	import { getRehearsal } from './rehearsal.svelte';
	const rehearsal = getRehearsal();

	const frame = $derived(rehearsal.frames[rehearsal.here]);
	const moment = $derived(rehearsal.moment);
	const stages = $derived(
		(moment?.stages ?? []).map((s) => ({
			key: s.key,
			...(frame?.reached.includes(s.key) ? { at: s.at ?? frame.at } : {})
		}))
	);
</script>

{#if frame && moment}
	<div class="head">
		<Dial {stages} size={64} words closed={frame.status === 'closed'} />
		<div>
			<p class="title">
				<strong>{moment.title}</strong> <span class="mono small soft">{moment.reference}</span>
			</p>
			<p data-standing={frame.status}>
				{standing({ status: frame.status, outcome: moment.outcome })}{#if frame.who.length}:
					<strong>{list.format(frame.who)}</strong>{/if}
			</p>
		</div>
	</div>
	{#if moment.promise}<PromiseLine promise={moment.promise} forecast={moment.forecast} />{/if}
	{#if moment.chart}<div class="plan"><PlanChart chart={moment.chart} /></div>{/if}
{/if}

<style>
	.head {
		display: grid;
		grid-template-columns: auto minmax(0, 1fr);
		gap: 0.9rem;
		align-items: center;
		margin-bottom: 0.4rem;
	}
	.plan {
		max-height: 17rem;
		overflow: auto;
		margin-top: 0.5rem;
	}
</style>
