<!-- What to do next: decide less, make it automatic, offer it, mend it; each line with its reasons. -->
<script lang="ts">
	import { address, narrowed, type Sentence } from '$lib/measure/sentence';
	import { count, number } from '$lib/measure/words';
	import { list } from '$lib/words';

	let { data } = $props();
	const next = $derived(data.next);
	const usual = $derived(data.desk.usual);
	const hours = (seconds: number) => number(seconds, 'open', '');
	const share = (n: number | undefined) => (n === undefined ? '' : number(n, 'share', ''));
	const look = (figure: string, side: 'task' | 'rung' | 'offering', key: string) =>
		address(narrowed({ ...usual, figure } as Sentence, side, [key]), usual);
	const whats = {
		sentBack: ['sent back', 'sentBack'],
		declined: ['declined', 'declined'],
		missed: ['not in the promised time', 'kept'],
		givenUp: ['given up before sending', 'givenUp'],
		stuck: ['of its tasks got stuck', 'taskStuck']
	} as const;
</script>

<svelte:head><title>What to do next · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<h1>What to do next</h1>
	<p class="soft small">
		By what happened in {next.period.words}, as far as you see it. Each line opens what it is made from.
	</p>
	<div class="four">
		<section aria-labelledby="automate">
			<h2 id="automate">Make it automatic</h2>
			<p class="soft small">What people do by hand, by the hours that it takes them a month.</p>
			<table>
				<thead
					><tr
						><th scope="col">Task</th><th scope="col">hours a month</th><th scope="col">times</th><th
							scope="col">could do it</th
						></tr
					></thead
				>
				<tbody>
					{#each next.automate as a (a.key)}
						<tr data-automate={a.key}>
							<th scope="row"><a href={look('hours', 'task', a.key)}>{a.name}</a></th>
							<td class="mono"
								>{hours(a.monthly)}{#if a.planned}<span class="soft small"> planned</span>{/if}</td
							>
							<td class="mono">{count(a.tasks)}</td>
							<td class="small">{a.connectors.length ? list.format(a.connectors) : 'nothing granted yet'}</td>
						</tr>
					{:else}<tr><td colspan="4" class="soft">Nothing was done by hand often enough.</td></tr>{/each}
				</tbody>
			</table>
			{#if next.automate.some((a) => a.planned)}<p class="soft small">
					<em>planned</em>: fewer than five people do it, so that their hours are not shown; it is the effort
					of the plan.
				</p>{/if}
		</section>
		<section aria-labelledby="offer">
			<h2 id="offer">Offer it</h2>
			<p class="soft small">
				What people looked for and did not find{#if next.searches.records}; {count(next.searches.part)} of {count(
						next.searches.records
					)} searches found nothing{/if}. Words that fewer than three people used are not shown.
			</p>
			<table>
				<thead><tr><th scope="col">In their words</th><th scope="col">people</th></tr></thead>
				<tbody>
					{#each next.offer as w (w.words[0])}
						<tr data-wish={w.words[0]}>
							<th scope="row"
								>{w.words[0]}{#if w.words.length > 1}<span class="soft small"
										>, also: {w.words.slice(1).join(', ')}</span
									>{/if}</th
							>
							<td class="mono">{count(w.people)}</td>
						</tr>
					{:else}<tr><td colspan="2" class="soft">Everybody found something.</td></tr>{/each}
				</tbody>
			</table>
			{#each next.catch as c (c.name)}
				<h3>Sent to {c.name}</h3>
				<p class="small">
					{count(c.requests)} requests. {#if c.words.length}Words that several share: {list.format(
							c.words.map((w) => `${w.words[0]} (${w.people})`)
						)}.{/if}
					{#if c.requests > 0}{number(c.else / c.requests, 'share', '')} fit nowhere.{/if}
				</p>
			{/each}
		</section>
		<section aria-labelledby="less">
			<h2 id="less">Decide less</h2>
			<p class="soft small">Decisions that are nearly always a yes, by how much waiting they cost.</p>
			<table>
				<thead
					><tr
						><th scope="col">Decision</th><th scope="col">yes</th><th scope="col">of</th><th scope="col"
							>half within</th
						></tr
					></thead
				>
				<tbody>
					{#each next.decide as d (d.key)}
						<tr data-less={d.key}>
							<th scope="row"><a href={look('passed', 'rung', d.key)}>{d.name}</a></th>
							<td class="mono">{share(d.passed.number)}</td>
							<td class="mono">{count(d.passed.records)}</td>
							<td class="mono">{hours(d.took.number ?? 0)}</td>
						</tr>
					{:else}<tr><td colspan="4" class="soft">No decision is nearly always a yes.</td></tr>{/each}
				</tbody>
			</table>
		</section>
		<section aria-labelledby="mend">
			<h2 id="mend">Mend it</h2>
			<p class="soft small">What goes wrong most often, and where.</p>
			<table>
				<thead
					><tr><th scope="col">Offering</th><th scope="col">what</th><th scope="col">where most</th></tr
					></thead
				>
				<tbody>
					{#each next.mend as m (`${m.offering} ${m.what}`)}
						{@const [words, figure] = whats[m.what]}
						<tr data-mend="{m.offering} {m.what}">
							<th scope="row"><a href={look(figure, 'offering', m.offering)}>{m.name}</a></th>
							<td
								><strong class="mono"
									>{share(m.what === 'missed' ? 1 - (m.value.number ?? 0) : m.value.number)}</strong
								>
								{words} <span class="soft small">of {count(m.value.records)}</span></td
							>
							<td class="small">{m.where ?? ''}</td>
						</tr>
					{:else}<tr><td colspan="3" class="soft">Nothing stands out.</td></tr>{/each}
				</tbody>
			</table>
		</section>
	</div>
</main>

<style>
	.four {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(min(100%, 34rem), 1fr));
		gap: 1.6rem 2.4rem;
	}
	section {
		min-width: 0;
		overflow-x: auto;
	}
	table {
		width: 100%;
		border-collapse: collapse;
		font-size: 0.875rem;
		margin-top: 0.3rem;
	}
	:is(th, td) {
		text-align: left;
		padding: 0.22rem 0.9rem 0.22rem 0;
		border-bottom: 1px solid var(--line);
		font-weight: 400;
		vertical-align: top;
	}
	thead th {
		color: var(--ink-soft);
		font-size: 0.8125rem;
	}
	td.mono {
		white-space: nowrap;
	}
	td .small {
		margin-left: 0.35rem;
	}
	h3 {
		margin-top: 0.8rem;
	}
</style>
