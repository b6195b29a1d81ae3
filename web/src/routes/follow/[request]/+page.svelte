<!-- A request like a parcel: whose turn it is, the tasks, the answers, the history. -->
<script module lang="ts">
	/** Words typed so far, by request: looking at another one in between loses none. */
	const remarks = $state<Record<string, string>>({});
</script>

<script lang="ts">
	import { page } from '$app/state';
	import { api, asked } from '$lib/api/client';
	import { list, minutes, standing } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import AddFile from '$lib/ui/AddFile.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Heard from '$lib/ui/Heard.svelte';
	import PlanChart from '$lib/ui/PlanChart.svelte';
	import Rungs from '$lib/ui/Rungs.svelte';
	import Say, { addressed } from '$lib/ui/Say.svelte';
	import Secrets from '$lib/ui/Secrets.svelte';
	import Tasks from '$lib/ui/Tasks.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const request = $derived(data.request);
	const sent = $derived(page.url.searchParams.has('sent'));
	const mayConfirm = $derived(request.allowed.includes('confirm'));
	const declined = $derived(request.rungs.flatMap((r) => r.seats).find((s) => s.decision === 'decline'));
	const kinds = {
		all: 'Everything',
		stage: 'Stages',
		decision: 'Decisions',
		task: 'Tasks',
		word: 'What was said',
		note: 'Notes of staff',
		belonging: 'What you have by it'
	} as const;
	let taking = $state<HTMLDialogElement>();
	let reason = $state('');
	let kind = $state<keyof typeof kinds>('all');
	let readers = $state('');
	const history = $derived(request.history.filter((e) => kind === 'all' || e.kind === kind).toReversed());

	async function confirm() {
		const done = await act.run(() =>
			asked(
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
			asked(
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
			asked(
				api.POST('/api/tasks/{request}/{task}/answer', {
					params: { path: { request: request.id, task } },
					body: { text: remarks[`${request.id}/${task}`] ?? '' }
				})
			)
		);
		if (done) delete remarks[`${request.id}/${task}`];
	}
	let cancelling = $state<HTMLDialogElement>();
	async function cancel() {
		const done = await act.run(() =>
			asked(api.POST('/api/requests/{request}/cancel', { params: path, body: { reason } }))
		);
		if (done) cancelling?.close();
	}
	let adding = $state<HTMLDialogElement>();
	let extra = $state({ name: '', team: '', reason: '', before: '' });
	async function addTask() {
		const done = await act.run(() =>
			asked(
				api.POST('/api/requests/{request}/tasks', {
					params: path,
					body: { ...extra, before: extra.before || undefined }
				})
			)
		);
		if (done) {
			adding?.close();
			extra = { name: '', team: '', reason: '', before: '' };
		}
	}
	async function takeBack() {
		taking?.close();
		await act.run(() =>
			asked(api.POST('/api/requests/{request}/withdraw', { params: path, body: { reason } }))
		);
	}
</script>

<svelte:head><title>{request.reference} · Heptad</title></svelte:head>

{#if sent}
	<div class="sent" role="status" data-sent>
		<p>
			<strong>Sent as <span class="mono" data-reference>{request.reference}</span>.</strong> Keep the number if
			you like; you find it here at any time.
		</p>
	</div>
{/if}
<div class="bar">
	<p class="eyebrow mono">{request.reference}</p>
	<p class="give">
		<button class="btn quiet small" onclick={() => print()} data-do="print">Print</button>
		<a
			class="small"
			href="/api/requests/{request.id}/export"
			download="{request.reference}.json"
			data-do="export">Export as JSON</a
		>
	</p>
</div>
<h1>{request.title}</h1>
<p class="soft small">
	Asked by {request.asker}{#if request.for && request.for !== request.asker}, for {request.for}{/if}
</p>

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
			<p class="soft">This request is closed. Nothing more happens.</p>
		{/if}
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
		<form
			onsubmit={(e) => {
				e.preventDefault();
				void confirm();
			}}
		>
			<label for="remark">A word to those who did it, if you like</label>
			<input id="remark" class="input" bind:value={remarks[request.id]} maxlength="2000" />
			<Trouble problem={act.problem} />
			<button class="btn do" disabled={act.running}>Confirm that it is done</button>
		</form>
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
	{:else if request.asked.length && request.allowed.includes('answer')}
		{#each request.asked as question (question.task)}
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
		<p class="now">Now with {list.format([...new Set(request.holders.map((h) => h.name))])}</p>
		<ul>
			{#each request.holders as holder, i (i)}
				<li>
					{holder.name}: {holder.what}{#if holder.until}, until <When time={holder.until} absolute />{/if}
				</li>
			{/each}
		</ul>
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
					onclick={() => adding?.showModal()}
					data-do="add-task">Add a task</button
				>{/if}
			{#if request.asStaff.includes('cancel')}<button
					class="btn quiet"
					onclick={() => cancelling?.showModal()}
					data-do="cancel">Cancel the request</button
				>{/if}
		</div>
	{/if}
</section>

{#snippet back()}
	{#if request.allowed.includes('withdraw')}
		<button type="button" class="btn quiet" onclick={() => taking?.showModal()} data-do="take-back"
			>Take it back</button
		>
	{/if}
{/snippet}
<dialog bind:this={taking} aria-labelledby="take-title">
	<h2 id="take-title">Take this request back?</h2>
	<p>
		{request.tasks.length
			? 'What is open stops. What was done already is undone, the last first; then it closes.'
			: 'It ends here. Whoever was asked to decide is told.'}
	</p>
	<label class="stack"
		><span>Why, if you like</span><input class="input" bind:value={reason} maxlength="2000" /></label
	>
	<div class="buttons">
		<button class="btn do" onclick={takeBack}>Take it back</button>
		<button class="btn plain" onclick={() => taking?.close()}>Keep it</button>
	</div>
</dialog>

<dialog bind:this={cancelling} aria-labelledby="cancel-title">
	<h2 id="cancel-title">Cancel this request?</h2>
	<p>What is open stops, what was done is undone. {request.asker} is told your reason.</p>
	<label class="stack"><span>Why</span><input class="input" bind:value={reason} maxlength="2000" /></label>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={cancel} disabled={!reason.trim() || act.running}
			>Cancel the request</button
		>
		<button class="btn plain" onclick={() => cancelling?.close()}>Leave it</button>
	</div>
</dialog>
<dialog bind:this={adding} aria-labelledby="add-title">
	<h2 id="add-title">Add a task</h2>
	<label class="stack"
		><span>What is to be done</span><input
			class="input"
			bind:value={extra.name}
			maxlength="200"
			data-field="task-name"
		/></label
	>
	<label class="stack"
		><span>By</span><select class="select" bind:value={extra.team} data-field="task-team"
			><option value="" disabled>choose a team</option>{#each request.teams as t (t.key)}<option value={t.key}
					>{t.name}</option
				>{/each}</select
		></label
	>
	<label class="stack"
		><span>Before</span><select class="select" bind:value={extra.before}
			><option value="">nothing in particular</option
			>{#each request.tasks.filter((t) => t.state === 'blocked') as t (t.key)}<option value={t.key}
					>{t.name}</option
				>{/each}</select
		></label
	>
	<label class="stack"
		><span>Why</span><input
			class="input"
			bind:value={extra.reason}
			maxlength="2000"
			data-field="task-reason"
		/></label
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button
			class="btn do"
			onclick={addTask}
			disabled={act.running || !extra.name.trim() || !extra.team || !extra.reason.trim()}>Add it</button
		>
		<button class="btn plain" onclick={() => adding?.close()}>Not now</button>
	</div>
</dialog>

{#if data.secrets.length}
	<section>
		<h2>For you alone</h2>
		<Secrets secrets={data.secrets} />
	</section>
{/if}

{#if request.chart}
	<section>
		<h2>The plan</h2>
		<PlanChart chart={request.chart} />
	</section>
{/if}

{#if request.rungs.length}
	<section>
		<h2>Decisions</h2>
		<Rungs rungs={request.rungs} />
	</section>
{/if}

{#if request.tasks.length}
	<section>
		<h2>Tasks</h2>
		<Tasks tasks={request.tasks} />
	</section>
{/if}

<section>
	<div class="bar">
		<h2>Your answers</h2>
		{#if request.askerId === data.session.person?.id && request.status !== 'draft'}
			<a class="small" href="/ask/{request.offering}?again={request.id}" data-do="again"
				>Ask for the same again</a
			>
		{/if}
	</div>
	<Answers answers={request.answers} request={request.id} />
	{#if request.readings.length}
		<details class="small" data-readings>
			<summary class="soft">Who had private answers and secrets shown</summary>
			<ul>
				{#each request.readings as reading, i (i)}
					<li>
						<When time={reading.at} absolute />: {reading.who}, {reading.what}{#if reading.as}, for {reading.as}{/if}
					</li>
				{/each}
			</ul>
		</details>
	{/if}
</section>

<section>
	<div class="bar">
		<h2>History</h2>
		<label class="small"
			>Show <select class="select" bind:value={kind}>
				{#each Object.entries(kinds) as [key, name] (key)}<option value={key}>{name}</option>{/each}
			</select></label
		>
	</div>
	{#if request.status !== 'closed' && request.whole}<Say
			request={request.id}
			tasks={request.tasks}
			bind:readers
		/>{/if}
	{#if request.allowed.includes('attach')}
		<AddFile request={request.id} {...addressed(readers)} />
	{/if}
	{#each request.files as file (file.id)}
		<p class="small">
			<a href="/api/requests/{request.id}/files/{file.id}" download={file.name}>{file.name}</a>
			<span class="soft"
				>{file.by}, <When time={file.at} />{#if file.task}, on {file.task}{/if}</span
			>
		</p>
	{/each}
	<ol class="history">
		{#each history as entry, i (i)}
			<li>
				<span class="soft small"><When time={entry.at} absolute /></span>
				<span
					>{#if entry.actor}<strong>{entry.actor}:</strong>
					{/if}{entry.sentence}{#if entry.remark}<span class="soft">. {entry.remark}</span>{/if}
					{#if entry.readers}<span class="soft small">(read by {entry.readers})</span>{/if}</span
				>
			</li>
		{/each}
	</ol>
</section>

<style>
	section {
		margin-top: 1.4rem;
	}
	.sent {
		border-left: 4px solid var(--kelp);
		padding: 0.4rem 0.75rem;
		margin-bottom: 1rem;
		background: var(--sound-wash);
	}
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
	.buttons {
		display: flex;
		flex-wrap: wrap;
		gap: 0.75rem;
		align-items: center;
	}
	.bar {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 1rem;
	}
	.give {
		display: flex;
		gap: 0.75rem;
		align-items: center;
	}
	.bar label {
		display: flex;
		align-items: center;
		gap: 0.5rem;
	}
	.select {
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	.history strong {
		margin-right: 0.4ch;
	}
	.history li {
		display: grid;
		grid-template-columns: 9.5rem minmax(0, 1fr);
		gap: 0.75rem;
		padding: 0.3rem 0;
		border-bottom: 1px solid var(--line);
		align-items: baseline;
	}
	@media (max-width: 600px) {
		.history strong {
			margin-right: 0.4ch;
		}
		.history li {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
