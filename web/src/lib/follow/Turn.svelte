<!-- Whose turn it is with a request, and what the reader can do now. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import Heard from '$lib/ui/Heard.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';
	import { list, minutes, standing } from '$lib/words';
	import AddTask from './AddTask.svelte';
	import Cancel from './Cancel.svelte';
	import Close from './Close.svelte';
	import Ended from './Ended.svelte';
	import { remarks } from './remarks.svelte';
	import Rate from './Rate.svelte';
	import SendBack from './SendBack.svelte';
	import TakeBack from './TakeBack.svelte';
	import Urge from './Urge.svelte';

	/** ends: references of those that end with it. */
	let { request, act, ends }: { request: Schema['RequestSheet']; act: Act; ends: string[] } = $props();
	const mayConfirm = $derived(request.allowed.includes('confirm'));
	const declined = $derived(request.rungs.flatMap((r) => r.seats).find((s) => s.decision === 'decline'));
	let taking = $state(false);
	let cancelling = $state(false);
	let closing = $state(false);
	let urging = $state(false);
	let adding = $state(false);
	let sending = $state(false);
	const last = $derived(request.backs.at(-1));

	async function confirm() {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/confirm', {
					params: { path: { request: request.id } },
					body: { remark: remarks[request.id] ?? '' }
				})
			)
		);
		if (done) delete remarks[request.id];
	}
	const path = $derived({ path: { request: request.id } });
	async function reply() {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/answer', {
					params: path,
					body: { reply: remarks[request.id] ?? '' }
				})
			)
		);
		if (done) delete remarks[request.id];
	}
	async function answerTask(task: string) {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/tasks/{request}/{task}/answer', {
					params: { path: { request: request.id, task } },
					body: { text: remarks[`${request.id}/${task}`] ?? '' }
				})
			)
		);
		if (done) delete remarks[`${request.id}/${task}`];
	}
</script>

<section class="turn" data-status={request.status} aria-label="Whose turn it is">
	{#if request.status === 'closed'}
		<p class="now">{standing(request)}</p>
		{#if request.outcome === 'declined' && declined}
			<p>{declined.name} declined: <q data-reason>{declined.said}</q></p>
		{:else}
			{#if request.leftOut?.length && request.outcome === 'fulfilled'}
				<p data-left-out>
					Not done: {list.format(request.leftOut.map((l) => `${l.task} (${l.reason})`))}.
				</p>
			{/if}
			<Ended closing={request.closing} />
			<p class="soft">
				This request is closed.
				{#if request.allowed.includes('sendBack') && request.backBy}
					If it is not right, send it back until <When time={request.backBy} absolute />.
				{:else}
					Nothing more happens.
				{/if}
			</p>
		{/if}
		{@render wrong()}
		{@render rated()}
	{:else if mayConfirm}
		<p class="now">Your turn: is it right?</p>
		<p>
			{request.leftOut?.length
				? `The work is done, but for ${list.format(request.leftOut.map((l) => `${l.task} (${l.reason})`))}.`
				: 'All work is done.'}
			{#if request.confirmBy}If you say nothing it closes by itself on <When
					time={request.confirmBy}
					absolute
				/>.{/if}
		</p>
		<Ended closing={request.closing} />
		<form
			onsubmit={(e) => {
				e.preventDefault();
				void confirm();
			}}
		>
			<label for="remark">A word to those who did it, if you like</label>
			<input id="remark" class="input" bind:value={remarks[request.id]} maxlength="2000" />
			<Trouble problem={act.problem} />
			<div class="buttons">
				<button class="btn do" disabled={act.running}>Confirm that it is done</button>
				{@render wrong()}
			</div>
		</form>
		{@render rated()}
	{:else if request.question && request.allowed.includes('resubmit')}
		<p class="now">
			Your turn: {request.question.by}
			{request.question.declined
				? `declined${request.question.parts?.length ? ` the share of ${list.format(request.question.parts)}` : ' it'}, and you can change it`
				: 'asks'}
		</p>
		<blockquote data-question-back>{request.question.text}</blockquote>
		<p class="soft small">
			Without an answer this expires on <When time={request.question.until} absolute />.
		</p>
		<form
			onsubmit={(e) => {
				e.preventDefault();
				void reply();
			}}
		>
			<label for="reply">Your answer</label>
			<textarea id="reply" class="textarea" rows="2" bind:value={remarks[request.id]} maxlength="2000"
			></textarea>
			<Trouble problem={act.problem} />
			<div class="buttons">
				<button class="btn do" disabled={act.running}>Answer {request.question.by}</button>
				<a class="btn plain" href="/ask/{request.offering}?request={request.id}" data-do="change"
					>Change what you asked for</a
				>
				{@render back()}
			</div>
		</form>
	{:else if request.questions.length && request.allowed.includes('answer')}
		{#each request.questions as question (question.task)}
			<p class="now">Your turn: {question.by} asks</p>
			<p class="soft small">About the task {question.name}</p>
			<blockquote data-question-back>{question.text}</blockquote>
			<form
				onsubmit={(e) => {
					e.preventDefault();
					void answerTask(question.task);
				}}
			>
				<label for="answer-{question.task}">Your answer</label>
				<textarea
					id="answer-{question.task}"
					class="textarea"
					rows="2"
					bind:value={remarks[`${request.id}/${question.task}`]}
					maxlength="2000"
					data-field="answer"></textarea>
				<Trouble problem={act.problem} />
				<div class="buttons">
					<button class="btn do" disabled={act.running}>Answer {question.by}</button>
					{@render back()}
				</div>
			</form>
		{/each}
	{:else if request.status === 'undoing'}
		<p class="now">Being taken back</p>
		<p class="soft">What was open has stopped; what was done is being undone, the last first.</p>
		<ul>
			{#each request.holders as holder, i (i)}
				<li>{holder.name}: {holder.what}</li>
			{/each}
		</ul>
	{:else}
		{#if last}
			<blockquote data-back>
				{last.by} sent it back <When time={last.at} />{#if last.lines.length}
					({list.format(last.lines)}){/if}: {last.text}
			</blockquote>
		{/if}
		<p class="now">Now with {list.format([...new Set(request.holders.map((h) => h.name))])}</p>
		<ul>
			{#each request.holders as holder, i (i)}
				<li>
					{holder.name}: {holder.what}{#if holder.until}, until <When time={holder.until} absolute />{/if}
				</li>
			{/each}
		</ul>
		{#if request.urging}
			<p class="soft" data-urging>
				{request.urging.by} asked for more urgency: {request.urging.choice}. It waits to be decided; what has
				begun goes on.
			</p>
		{/if}
		{#if request.heldUp?.since}
			<p class="soft" data-held-up>
				{request.heldUp.stuck ? 'Stuck on' : 'Waits longest for'}
				{request.heldUp.what}{#if request.heldUp.who && request.holders.length > 1}, with {request.heldUp
						.who}{/if}, since <When time={request.heldUp.since} />{#if request.heldUp.open > 0},
					{minutes(request.heldUp.open)} of working time{/if}.
			</p>
		{/if}
		<Trouble problem={act.problem} />
		<div class="buttons">
			{@render back()}
			{#if request.asStaff.includes('hear')}<Heard request={request.id} people={request.mayAnswer} />{/if}
			{#if request.asStaff.includes('addTask')}<button
					class="btn plain"
					onclick={() => (adding = true)}
					data-do="add-task">Add a task</button
				>{/if}
			{#if request.asStaff.includes('close')}<button
					class="btn quiet"
					onclick={() => (closing = true)}
					data-do="close">Close as done</button
				>{/if}
			{#if request.asStaff.includes('cancel')}<button
					class="btn quiet"
					onclick={() => (cancelling = true)}
					data-do="cancel">Cancel the request</button
				>{/if}
		</div>
	{/if}
</section>

{#snippet rated()}
	{#if request.allowed.includes('rate')}<Rate {request} />{/if}
{/snippet}

{#snippet wrong()}
	{#if request.allowed.includes('sendBack')}
		<button type="button" class="btn plain" onclick={() => (sending = true)} data-do="not-right"
			>It is not right</button
		>
	{/if}
{/snippet}

{#snippet back()}
	{#if request.allowed.includes('urge')}
		<button type="button" class="btn quiet" onclick={() => (urging = true)} data-do="urge"
			>It is urgent</button
		>
	{/if}
	{#if request.allowed.includes('withdraw')}
		<button type="button" class="btn quiet" onclick={() => (taking = true)} data-do="take-back"
			>Take it back</button
		>
	{/if}
{/snippet}

<SendBack bind:open={sending} {request} />
<Urge bind:open={urging} {request} {act} />
<TakeBack bind:open={taking} {request} {act} />
<Cancel bind:open={cancelling} {request} {act} {ends} />
<Close bind:open={closing} {request} {act} {ends} />
<AddTask bind:open={adding} {request} {act} />

<style>
	.turn {
		margin-top: 0.75rem;
		border-block: 1px solid var(--line-strong);
		padding-block: 0.7rem;
	}
	.now {
		font: 600 1.1875rem var(--heading);
	}
	form {
		display: grid;
		gap: 0.5rem;
		margin-top: 0.6rem;
		justify-items: start;
		max-width: 32rem;
	}
	.input {
		width: 100%;
	}
	blockquote {
		border-left: 4px solid var(--buoy);
		padding: 0.2rem 0.75rem;
		margin-block: 0.4rem;
		white-space: pre-wrap;
	}
	.textarea {
		width: 100%;
	}
</style>
