<!-- The ladder of a request: who decides, who decided, what they said, and why it is they. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Person from './Person.svelte';
	import When from './When.svelte';
	import Why from './Why.svelte';
	let { rungs }: { rungs: Schema['RungView'][] } = $props();

	const asked = (seat: Schema['SeatView']) =>
		seat.others.map((o) =>
			o.as === 'standIn'
				? `${o.name} stands in`
				: o.as === 'escalated'
					? `${o.name} is asked as well`
					: `passed on to ${o.name}`
		);
	const why = (rung: Schema['RungView'], seat: Schema['SeatView']) =>
		[`${rung.name}: ${seat.reason}.`, ...seat.others.map((o) => `${o.name}: ${o.reason}.`)].join(' ');
</script>

<ol>
	{#each rungs as rung (rung.key)}
		<li data-rung={rung.key} data-outcome={rung.outcome}>
			<p class="rung">
				<strong>{rung.name}</strong>
				<span class="soft small">
					{#if rung.needs}{rung.needs},&nbsp;{/if}{#if rung.outcome === 'passed'}passed{:else if rung.outcome === 'declined'}declined{:else if !rung.opened}comes
						after the decisions before it{:else if rung.limit}to be decided until <When
							time={rung.limit}
							absolute
						/>{:else}open{/if}
				</span>
			</p>
			{#if rung.note}<p class="small note">{rung.note}.</p>{/if}
			<ul>
				{#each rung.seats as seat (seat.name + (seat.part ?? ''))}
					<li class:open={!seat.decision && rung.outcome === 'open'}>
						<span class="sign" aria-hidden="true"
							>{seat.decision === 'approve' ? '✓' : seat.decision === 'decline' ? '✕' : '·'}</span
						>
						<span>
							<Person name={seat.name} />{#if seat.part}<span class="soft"
									>&nbsp;for the share of {seat.part}</span
								>{/if}
							{#if seat.decision}{seat.decision === 'approve' ? 'approved' : 'declined'}{#if seat.by}, decided
									by <Person name={seat.by} />{/if}{#if seat.carried}, as before{/if}
								{#if seat.at}<When time={seat.at} />{/if}{#if seat.said}: <q>{seat.said}</q>{/if}
							{:else if rung.outcome !== 'open'}was not needed{:else if rung.opened}{seat.absent
									? 'is absent'
									: 'has it'} since <When time={rung.opened} absolute />{/if}
							{#if !seat.decision && seat.others.length}({asked(seat).join(', ')}){/if}
							<Why of={seat.name} reason={why(rung, seat)} />
						</span>
					</li>
				{/each}
			</ul>
		</li>
	{/each}
</ol>

<style>
	ol > li {
		padding-block: 0.35rem;
		border-bottom: 1px solid var(--line);
	}
	ol > li:last-child {
		border: 0;
	}
	ul li {
		display: grid;
		grid-template-columns: 1.2rem 1fr;
		align-items: baseline;
	}
	.open .sign {
		color: var(--buoy-text);
		font-weight: 700;
	}
	.note {
		border-left: 3px solid var(--brass);
		padding-left: 0.5rem;
	}
</style>
