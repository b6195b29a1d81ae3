<!-- The slip beside a form: picks and prices, whose decisions, what follows. Always true. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { at, date, isNothing, list, money, per } from '$lib/words';
	import When from '$lib/ui/When.svelte';
	import Why from '$lib/ui/Why.svelte';

	/** priced: whether there is anything to pick. */
	type Props = { result: Schema['Evaluation']; priced: boolean; working?: boolean };
	let { result, priced, working = false }: Props = $props();
	const price = $derived(result.price);
	/** Costs that several bear, or part of which one bears oneself. */
	const shared = $derived(price.shares.length > 1 || price.shares.some((s) => s.payer === 'own'));
	const payer = (share: Schema['PriceShare']) =>
		share.payer === 'own' ? 'You' : share.payer === 'company' ? 'The company' : (share.name ?? '');
	const parts = (share: Schema['PriceShare']) =>
		(['once', 'monthly', 'yearly'] as const)
			.filter((p) => !isNothing(share[p]))
			.map((p) => `${money(share[p])} ${{ once: 'once', monthly: 'a month', yearly: 'a year' }[p]}`)
			.join(', ') || 'nothing';
</script>

<section class="slip" aria-label="Slip" aria-busy={working}>
	<h2>Your slip</h2>
	{#if price.lines.length === 0}
		<p class="soft">
			{priced ? 'Nothing picked yet.' : 'This costs nothing.'}
		</p>
	{:else}
		<table>
			<caption class="sr-only">What it costs</caption>
			<tbody>
				{#each price.lines as line, i (i)}
					<tr class={line.kind}>
						<td
							>{(line.quantity ?? 0) > 1 ? `${line.quantity} × ` : ''}{line.name}{#if line.unit}<span
									class="note">by the {line.unit}</span
								>{/if}{#if line.note}<span class="note">{line.note}</span>{/if}</td
						>
						<td class="mono sum">{money(line.sum)}<span class="per"> {per[line.per]}</span></td>
					</tr>
				{/each}
			</tbody>
			<tfoot>
				{#if !isNothing(price.once)}
					<tr><th scope="row">Once</th><td class="mono sum" data-total="once">{money(price.once)}</td></tr>
				{/if}
				{#if !isNothing(price.monthly)}
					<tr
						><th scope="row">A month</th><td class="mono sum" data-total="monthly">{money(price.monthly)}</td
						></tr
					>
				{/if}
				{#if !isNothing(price.yearly)}
					<tr
						><th scope="row">A year</th><td class="mono sum" data-total="yearly">{money(price.yearly)}</td
						></tr
					>
				{/if}
				<tr class="total"
					><th scope="row">First year</th><td class="mono sum" data-total="firstYear"
						>{money(price.firstYear)}</td
					></tr
				>
				{#if price.term}
					<tr
						><th scope="row">In {price.months} months</th><td class="mono sum" data-total="term"
							>{money(price.term)}</td
						></tr
					>
				{/if}
			</tfoot>
		</table>
	{/if}
	{#if shared}
		<h3>Who pays</h3>
		<ul class="shares">
			{#each price.shares as share, i (i)}
				<li>
					<span>{payer(share)}{share.percent && share.percent !== '100' ? ` (${share.percent} %)` : ''}</span>
					<span class="mono">{parts(share)}</span>
				</li>
			{/each}
		</ul>
	{/if}
	{#if result.trouble}
		<h3>What follows</h3>
		<p class="soft">
			Known once it can be asked: {result.trouble.charAt(0).toLowerCase() + result.trouble.slice(1)}
		</p>
	{:else}
		<h3>Decisions it needs</h3>
		{#if result.decisions.length === 0}
			<p class="soft">None: the work begins as you send.</p>
		{:else}
			<ol>
				{#each result.decisions as rung, i (i)}
					<li>
						{#if rung.trouble}
							<span class="problem">{rung.name}: {rung.trouble}.</span>
						{:else}
							<strong
								>{list.format(
									rung.people.map((p) => (p.standIn ? `${p.standIn}, for ${p.name}` : p.name))
								)}</strong
							>
							{#if rung.needs || rung.why}<span class="soft small"
									>{[rung.needs, rung.why && `as ${rung.why}`].filter(Boolean).join(', ')}</span
								>{/if}
							<Why
								of={rung.name}
								reason={`${rung.name}${rung.why ? `, as ${rung.why}` : ''}. ${rung.people.map((p) => `${p.name}: ${p.reason}.`).join(' ')}${rung.within ? ` They have ${rung.within}.` : ''}${rung.note ? ` ${rung.note}.` : ''}`}
							/>
						{/if}
					</li>
				{/each}
			</ol>
		{/if}
		{#if result.promised}
			<h3>Promised</h3>
			<p>
				{#if result.promised.day}<strong>Ready for {date(result.promised.day)}</strong> ({result.promised
						.name}){#if result.promised.by}: by <When time={result.promised.by} absolute />{/if}.
				{:else}<strong>Done within {result.promised.fulfilment}</strong> ({result.promised
						.name}){#if result.promised.by}: sent now, by <When
							time={result.promised.by}
							absolute
						/>{/if}.{/if}
			</p>
			{#if result.promised.response}<p class="soft">First word within {result.promised.response}.</p>{/if}
		{/if}
		{#if result.forecast?.likely && result.complete}
			<h3>Likely</h3>
			<p data-likely>
				<strong>{at(result.forecast.likely)}</strong
				>{#if result.forecast.measured && result.forecast.sure}<span class="soft"
						>, as such work went before; by {at(result.forecast.sure)} in four of five cases</span
					>{/if}
				{#if result.forecast.tooLate}<strong class="warn" data-too-late
						>{result.forecast.day
							? `Too late for ${date(result.forecast.day)}.`
							: 'Later than promised.'}</strong
					>{/if}
			</p>
		{/if}
		{#if result.complete}
			<h3>Then</h3>
			<p class="soft">
				{result.tasks === 0
					? ''
					: result.tasks === 1
						? 'One task is done.'
						: `${result.tasks} tasks are done.`}
				{result.confirms ? 'You confirm when it is right.' : 'It closes by itself when they are.'}
			</p>
		{/if}
	{/if}
</section>

<style>
	.slip {
		background: var(--panel);
		padding: 0.9rem 1rem 1.2rem;
		border-top: 3px solid var(--ink);
		/* the torn edge of a paper slip */
		--tooth: 8px;
		mask:
			conic-gradient(from -45deg at bottom, #0000, #000 1deg 89deg, #0000 90deg) 50% 100% /
				calc(2 * var(--tooth)) var(--tooth) repeat-x,
			linear-gradient(#000 0 0) 50% 0 / 100% calc(100% - var(--tooth)) no-repeat;
	}
	h3 {
		margin-top: 0.9rem;
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
	table {
		width: 100%;
		margin-top: 0.4rem;
	}
	td,
	th {
		text-align: left;
		padding: 0.2rem 0;
		vertical-align: top;
		font-weight: 400;
	}
	.sum {
		text-align: right;
		white-space: nowrap;
	}
	.per {
		margin-left: 0.5ch;
		color: var(--ink-soft);
	}
	.note {
		display: block;
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
	.extra td:first-child,
	.discount td:first-child,
	.part td:first-child {
		padding-left: 0.9rem;
	}
	.shares li {
		display: flex;
		justify-content: space-between;
		gap: 0.75rem;
	}
	tfoot tr:first-child > * {
		border-top: 1px solid var(--line-strong);
	}
	.warn {
		display: block;
		color: var(--buoy-text);
	}
	.total > * {
		font-weight: 700;
	}
</style>
