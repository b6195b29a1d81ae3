<!-- What a season would come to: each team by week, each promise, and how near a simulation comes to what was. -->
<script lang="ts">
	import Table from '$lib/ui/Table.svelte';
	import type { Schema } from '$lib/api/client';
	import { minutes, shortDate } from '$lib/words';
	import { ownOfferings } from '$lib/names.svelte';
	import { getEditor } from '../editor.svelte';
	import TeamWeeks from './TeamWeeks.svelte';
	let { result, asked }: { result: Schema['WorkForesight']; asked: Schema['WorkSeasonAsked'] } = $props();
	const editor = getEditor();

	const percent = (n: number) => `${Math.round(n * 100)} %`;
	const between = (s: Schema['ForeseeSpread']) =>
		Math.round(s.low * 100) === Math.round(s.high * 100)
			? percent(s.mean)
			: `${percent(s.mean)} (${Math.round(s.low * 100)}–${Math.round(s.high * 100)})`;
	/** The worst first: who would be late in most weeks, then who has most to do. */
	const teams = $derived(
		[...result.after.teams].sort((a, b) => b.behind.length - a.behind.length || b.load.mean - a.load.mean)
	);
	const before = (key: string) => result.before.teams.find((t) => t.key === key);
	const offering = (key: string) =>
		key === ''
			? 'All that others offer'
			: key === editor.document.key
				? editor.document.purpose.name
				: ownOfferings.of(key);
	$effect(() => void ownOfferings.know(result.after.promises.map((p) => p.offering)));
	const promises = $derived(
		result.after.promises.map((p) => ({
			...p,
			was: result.before.promises.find((b) => b.offering === p.offering && b.name === p.name)
		}))
	);
	const checked = $derived(
		(result.check?.measured.teams ?? []).map((m) => ({
			measured: m,
			simulated: result.check!.simulated.teams.find((t) => t.key === m.key)
		}))
	);
	type Checked = (typeof checked)[number];
	const share = (of: 'load' | 'late', c: Checked) => [
		c.simulated ? between(c.simulated[of]) : percent(0),
		percent(c.measured[of].mean)
	];
	const waited = (c: Checked) =>
		[c.simulated?.waited.mean ?? 0, c.measured.waited.mean].map((n) => minutes(Math.round(n)));
	const demand = $derived(
		(asked.demand ?? [])
			.filter((d) => d.percent)
			.map(
				(d) =>
					`${d.offering ? 'of this' : 'of all else'} ${Math.abs(d.percent)} % ${d.percent < 0 ? 'less' : 'more'}`
			)
			.join(', ')
	);
</script>

<p data-foreseen={result.past}>
	{shortDate(result.from)} to {shortDate(result.until)}: about <strong>{result.after.sent}</strong> requests,
	as from
	{shortDate(result.pastFrom)} to {shortDate(result.pastUntil)}{demand ? `, ${demand}` : ''}.
	{#if result.failed}<span class="soft">{result.failed} of them could not be worked out.</span>{/if}
</p>
{#if !result.past}
	<p class="soft">Nothing was asked for in that time a year before: nothing can be foreseen from it.</p>
{/if}
{#each teams as team (team.key)}
	<TeamWeeks {team} before={before(team.key)} />
{/each}
{#if teams.length}
	<p class="small soft key">
		<span><i class="now"></i> with the draft and what is changed</span>
		<span><i class="was"></i> as it is</span>
		<span><i class="late"></i> a fifth of the tasks or more end late</span>
	</p>
{/if}

{#if promises.length}
	<h2>Promises that would be kept</h2>
	<Table
		--least="34rem"
		label="Promises that would be kept"
		columns={[
			{ key: 'what', name: 'What is promised' },
			{ key: 'of', name: 'Requests' },
			{ key: 'was', name: 'As it is' },
			{ key: 'now', name: 'With the draft' }
		]}
		rows={promises}
		id={(p) => `${p.offering} ${p.name}`}
		none="Nothing is promised."
		data={(p) => ({ 'data-promise': p.offering })}
	>
		{#snippet cells(p)}
			<td>{offering(p.offering)}{p.name ? `, ${p.name}` : ''}</td>
			<td class="mono">{Math.round(p.of)}</td>
			<td class="mono">{p.was ? between(p.was.kept) : ''}</td>
			<td class="mono"
				><strong>{between(p.kept)}</strong>{#if p.was && Math.abs(p.kept.mean - p.was.kept.mean) >= 0.005}
					{p.kept.mean > p.was.kept.mean ? '▲' : '▼'}{/if}</td
			>
		{/snippet}
	</Table>
	<p class="small soft">In brackets: between what nine of ten runs lie.</p>
{/if}

{#if result.check}
	<h2>How far to trust it</h2>
	<p class="small">
		The quarter from {shortDate(result.check.from)} to {shortDate(result.check.until)}, simulated with what
		was known before it, beside what was measured in it.
	</p>
	<Table
		--least="34rem"
		label="The last quarter, simulated and measured"
		columns={[
			{ key: 'team', name: 'Team' },
			{ key: 'load', name: 'Load' },
			{ key: 'waited', name: 'A task waited' },
			{ key: 'late', name: 'Late' }
		]}
		rows={checked}
		id={(c) => c.measured.key}
		none="No task ended in it."
		data={(c) => ({ 'data-checked': c.measured.key })}
	>
		{#snippet cells(c)}
			<td>{c.measured.name}</td>
			{#each [share('load', c), waited(c), share('late', c)] as [simulated, measured], i (i)}
				<td class="mono">{simulated} <span class="soft">was {measured}</span></td>
			{/each}
		{/snippet}
	</Table>
{/if}
<details class="small">
	<summary>What is taken for granted</summary>
	<ul>
		<li>What was asked for a year before comes again, a week sooner or later, as often as is said above.</li>
		<li>
			Each person does one task at a time, the one first that must begin first, in the hours of their team and
			when they are not absent.
		</li>
		<li>
			How long work takes is drawn from what it took in the last year, where twenty were measured; else it is
			the effort of the plan. Nobody's waiting is drawn: it comes from the queue.
		</li>
		<li>
			What was declined or taken back a year before is again. Questions, and what gets stuck, are in the
			times.
		</li>
	</ul>
</details>

<style>
	h2 {
		font-size: 1.1rem;
		margin: 1.2rem 0 0.3rem;
	}
	.key {
		display: flex;
		flex-wrap: wrap;
		gap: 0.3rem 1.1rem;
	}
	.key i {
		display: inline-block;
		width: 0.8rem;
		height: 0.8rem;
		vertical-align: -0.1rem;
	}
	.now {
		background: var(--sound);
	}
	.was {
		border: 1.5px solid var(--ink-soft);
	}
	.late {
		background: repeating-linear-gradient(45deg, var(--buoy) 0 2px, transparent 2px 4px);
	}
</style>
