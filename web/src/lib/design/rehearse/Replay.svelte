<!-- Past requests put through a draft: how many would be other, by how much, and which. -->
<script lang="ts">
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { api, unwrap } from '$lib/api/client';
	import { money, shortDate } from '$lib/words';
	import { getEditor } from '../editor.svelte';
	import Days from './Days.svelte';
	import FillIn from './FillIn.svelte';
	import StudyList from './StudyList.svelte';
	import { Studies } from './studies.svelte';
	const editor = getEditor();
	const act = new Act();
	const path = $derived({ offering: editor.document.key });
	const studies = new Studies(
		() => unwrap(api.GET('/api/design/{offering}/replays', { params: { path } })),
		(study) =>
			unwrap(api.GET('/api/design/{offering}/replays/{study}', { params: { path: { ...path, study } } }))
	);

	const day = (years: number) => {
		const [year = '', rest = ''] = [today.slice(0, 4), today.slice(4)];
		return `${Number(year) + years}${rest}`;
	};
	const today = new Date().toISOString().slice(0, 10);
	let from = $state(day(-1));
	let until = $state(today);
	let leaveOut = $state(false);
	let fill = $state<Record<string, string | number | boolean>>({});
	const whole = $derived(studies.whole);
	let only = $state<'all' | 'invalid' | 'approvers' | 'tasks' | 'price' | 'promise'>('all');
	const result = $derived(whole?.result);
	const records = $derived(
		(result?.records ?? []).filter(
			(r) =>
				({
					all: true,
					invalid: !r.valid,
					approvers: !!r.approvers?.length,
					tasks: !!r.tasks?.length,
					price: r.valid && r.before !== r.after,
					promise: !!r.promise
				})[only]
		)
	);
	let shown = $state(50);

	async function begin() {
		await editor.save();
		const out = await unwrap(
			api.POST('/api/design/{offering}/replays', {
				params: { path },
				body: { from: `${from}T00:00:00Z`, until: `${until}T23:59:59Z`, leaveOut, fill }
			})
		);
		await studies.begun(out.id);
	}
	const cost = $derived(
		result ? money({ amount: result.costs.replace('-', ''), currency: result.currency ?? '' }) : ''
	);
	const figures = $derived(
		result
			? ([
					['all', result.changed, 'would go otherwise'],
					['invalid', result.invalid, 'could not be sent any more'],
					['approvers', result.approvers, 'would go to others for a decision'],
					['tasks', result.tasks, 'would take other tasks or teams'],
					[
						'price',
						result.prices,
						`would cost otherwise: ${cost} ${result.costs.startsWith('-') ? 'less' : 'more'}`
					],
					['promise', result.promises, 'would be promised something else']
				] as const)
			: []
	);
</script>

<form
	class="ask"
	onsubmit={(e) => {
		e.preventDefault();
		void act.run(begin);
	}}
>
	<Days bind:from bind:until word="Sent from" first="Sent from" last="Sent until" />
	<label class="small"
		><input type="checkbox" class="checkbox" bind:checked={leaveOut} data-field="leave-out" /> new questions without
		an answer make nothing invalid</label
	>
	<div class="whole"><FillIn bind:fill /></div>
	<button class="btn do" disabled={act.running || from > until} data-do="replay">Put them through</button>
</form>
<Trouble problem={act.problem} />
<StudyList {studies} />
{#if result}
	{#if result.of === 0}
		<p class="soft">Nothing was sent in that time.</p>
	{:else}
		<p data-replayed={result.of}>
			Of <strong>{result.of}</strong> requests{whole
				? `, sent ${shortDate(whole.asked.from.slice(0, 10))} to ${shortDate(whole.asked.until.slice(0, 10))}`
				: ''}:
		</p>
		<ul class="figures">
			{#each figures as [key, n, words] (key)}
				<li>
					<button
						class="btn quiet"
						aria-pressed={only === key}
						disabled={n === 0}
						onclick={() => (only = key)}
						data-only={key}><strong>{n}</strong> {words}</button
					>
				</li>
			{/each}
		</ul>
		<p class="small soft">
			{Math.round(Math.abs(result.hours))} hours of work {result.hours < 0 ? 'less' : 'more'}, {Math.abs(
				result.decisions
			)} decisions
			{result.decisions < 0 ? 'fewer' : 'more'}; {result.sooner} would likely be done sooner, {result.later} later.
			{#if result.absent}{result.absent} have private or forgotten answers, which counted as absent.{/if}
			{#if result.failed}{result.failed} could not be worked out.{/if}
		</p>
		{#each records.slice(0, shown) as r (r.request)}
			<details data-record={r.reference}>
				<summary
					><span class="mono small">{r.reference}</span>
					{r.title}
					<span class="small soft"
						>{#if !r.valid}<strong class="problem">could not be sent</strong>{:else}{[
								r.approvers?.length && 'decisions',
								r.tasks?.length && 'tasks',
								r.before !== r.after && 'price',
								r.promise && 'promise'
							]
								.filter(Boolean)
								.join(', ')}{/if}</span
					></summary
				>
				<ul class="small">
					{#each r.fails ?? [] as f (f.key + f.sentence)}<li>
							{f.label ? `${f.label}: ` : ''}{f.sentence}
						</li>{/each}
					{#each r.approvers ?? [] as words (words)}<li>{words}</li>{/each}
					{#each r.tasks ?? [] as words (words)}<li>{words}</li>{/each}
					{#if r.promise}<li>Promised: {r.promise}</li>{/if}
					{#if r.valid && r.before !== r.after}<li>
							{result.currency}
							{r.after} in the first year, not {r.before}
						</li>{/if}
				</ul>
				<a class="small" href="/follow/{r.request}">The request</a>
			</details>
		{/each}
		{#if records.length > shown}<button class="btn plain small" onclick={() => (shown += 100)}
				>{records.length - shown} more</button
			>{/if}
	{/if}
{:else if studies.all && !studies.all.length}
	<p class="soft">
		Put last year's requests through the draft, before anybody is touched by it. It writes nothing but its own
		result.
	</p>
{/if}

<style>
	.ask {
		margin-top: 0.7rem;
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.8rem;
	}
	.ask label {
		display: inline-flex;
		align-items: center;
		gap: 0.4rem;
	}
	.whole {
		flex-basis: 100%;
	}
	.figures {
		list-style: none;
		padding: 0;
	}
	.figures [aria-pressed='true'] {
		background: var(--sound-wash);
	}
	details {
		border-bottom: 1px solid var(--line);
		padding: 0.25rem 0;
	}
</style>
