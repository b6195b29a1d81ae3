<!-- One task with only the answers it needs, and all that can be done with it now. -->
<script module lang="ts">
	/** What was typed so far, by task: looking at another one in between loses none. */
	const typed = $state<Record<string, { word?: string; say?: string; outputs?: Record<string, string> }>>({});
</script>

<script lang="ts">
	import { tick as settle } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { api, asked } from '$lib/api/client';
	import { answerText, at, list, money, per, slack, taskStates } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import AddFile from '$lib/ui/AddFile.svelte';
	import Answers from '$lib/ui/Answers.svelte';
	import Dial from '$lib/ui/Dial.svelte';
	import PlanChart from '$lib/ui/PlanChart.svelte';
	import Heard from '$lib/ui/Heard.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const task = $derived(data.task);
	const path = $derived({ request: page.params.request ?? '', task: page.params.task ?? '' });
	const params = $derived({ path });
	const id = $derived(`${path.request}/${path.task}`);
	const mine = $derived(typed[id] ?? {});
	const type = (change: (typeof typed)[string]) => (typed[id] = { ...typed[id], ...change });
	const may = (deed: string) => task.allowed.includes(deed);
	const wanted = $derived(may('complete') && !task.undo ? task.wanted : []);
	const left = $derived(task.mustDos.filter((m) => !m.done).length);
	const problemAt = (place: string) => act.problem?.errors?.find((e) => e.place === place)?.sentence;

	const go = {
		take: () => asked(api.POST('/api/tasks/{request}/{task}/take', { params })),
		retry: () => asked(api.POST('/api/tasks/{request}/{task}/retry', { params })),
		complete: () =>
			asked(
				api.POST('/api/tasks/{request}/{task}/complete', {
					params,
					body: { word: mine.word, outputs: mine.outputs }
				})
			)
	};
	/** Ends the task; when something is missing, focus goes to the first place. */
	async function complete() {
		if (await act.run(go.complete)) {
			delete typed[id];
			return;
		}
		const place = act.problem?.errors?.[0]?.place ?? '';
		const [, part = '', key = ''] = place.split('/');
		const field = ({ mustDos: 'point', lines: 'line', outputs: 'output-field' } as Record<string, string>)[
			part
		];
		await settle();
		document
			.querySelector<HTMLElement>(field ? `[data-${field}="${key}"]` : '[data-field="closing"]')
			?.focus();
	}
	/** What is asked of another system, as its lead corrects it. */
	let correcting = $state<Record<string, string> | undefined>();
	let reasonToCorrect = $state('');
	async function correct() {
		const changed = Object.fromEntries(
			Object.entries(correcting ?? {}).filter(
				([key, text]) => task.calls?.find((c) => c.key === key)?.text !== text
			)
		);
		const done = await act.run(() =>
			asked(
				api.POST('/api/tasks/{request}/{task}/correct', {
					params,
					body: { inputs: changed, reason: reasonToCorrect }
				})
			)
		);
		if (done) correcting = undefined;
	}
	const tick = (point: number, done: boolean) =>
		act.run(() => asked(api.POST('/api/tasks/{request}/{task}/points', { params, body: { point, done } })));
	const count = (line: number, done: number) =>
		act.run(() => asked(api.POST('/api/tasks/{request}/{task}/lines', { params, body: { line, done } })));

	// What needs a text: one dialog for all of them.
	type Telling = 'ask' | 'stuck' | 'skip' | 'doubt';
	const tellings: Record<Telling, { title: string; label: string; button: string }> = {
		ask: {
			title: 'Ask the asker',
			label: 'What do you want to know? The request waits for the answer.',
			button: 'Ask'
		},
		stuck: { title: 'This is stuck', label: 'What is it stuck on?', button: 'Say that it is stuck' },
		skip: {
			title: 'Leave this task out',
			label: 'Why is it not needed? Everybody reads it.',
			button: 'Leave it out'
		},
		doubt: {
			title: 'Not eligible',
			label: 'Why should they not have this? Those who lead read it and decide; the asker does not.',
			button: 'Tell those who lead'
		}
	};
	let dialog = $state<HTMLDialogElement>();
	let telling = $state<Telling>('ask');
	let text = $state('');
	const unask = () => act.run(() => asked(api.POST('/api/tasks/{request}/{task}/unask', { params })));
	function tell(what: Telling) {
		telling = what;
		text = '';
		dialog?.showModal();
	}
	async function told() {
		const body = { text };
		const done = await act.run((): Promise<unknown> =>
			telling === 'ask'
				? asked(api.POST('/api/tasks/{request}/{task}/ask', { params, body }))
				: telling === 'stuck'
					? asked(api.POST('/api/tasks/{request}/{task}/stuck', { params, body }))
					: telling === 'doubt'
						? asked(api.POST('/api/tasks/{request}/{task}/doubt', { params, body }))
						: asked(api.POST('/api/tasks/{request}/{task}/skip', { params, body }))
		);
		if (done) dialog?.close();
	}

	// Handing over.
	let handing = $state<HTMLDialogElement>();
	let to = $state('');
	let why = $state('');
	async function handOver() {
		const [kind, key] = [to.slice(0, 1), to.slice(1)];
		const done = await act.run(async () => {
			const sheet = await asked(
				api.POST('/api/tasks/{request}/{task}/hand-over', {
					params,
					body:
						kind === 'p'
							? { person: key, reason: why }
							: kind === 't'
								? { team: key, reason: why }
								: kind === 'u'
									? { upward: true, reason: why }
									: { reason: why }
				})
			);
			handing?.close();
			if (!sheet.key) await goto('/deliver'); // it is with others now
			return true;
		});
		if (done) to = why = '';
	}

	// Waiving a forerunner.
	let waiving = $state<HTMLDialogElement>();
	let after = $state('');
	async function waive() {
		const done = await act.run(() =>
			asked(api.POST('/api/tasks/{request}/{task}/waive', { params, body: { after, reason: why } }))
		);
		if (done) waiving?.close();
	}

	// Words to the asker, notes to staff, files.
	const readers = {
		say: 'the asker and this team',
		all: 'the asker and all teams at work',
		note: 'this team only',
		staff: 'all teams at work, not the asker'
	};
	let reader = $state<keyof typeof readers>('say');
	const staff = $derived(reader === 'note' || reader === 'staff');
	const readBy = $derived(reader === 'all' || reader === 'staff' ? ('staff' as const) : undefined);
	async function say() {
		const body = { text: mine.say ?? '', to: readBy };
		const done = await act.run(() =>
			staff
				? asked(api.POST('/api/tasks/{request}/{task}/notes', { params, body }))
				: asked(api.POST('/api/tasks/{request}/{task}/words', { params, body }))
		);
		if (done) type({ say: '' });
	}
</script>

<svelte:head><title>{task.name} · Heptad</title></svelte:head>
<div class="head">
	<div>
		<p class="eyebrow"><span class="mono">{task.reference}</span> · {task.team}</p>
		<h1>{task.name}</h1>
		<p class="soft">
			{[`${task.title}, for ${task.for}`, task.effort && `takes ${task.effort}`].filter(Boolean).join(' · ')}
		</p>
	</div>
	<Dial stages={task.stages} yours={false} closed={task.status === 'closed'} size={64} />
</div>

<div class="do" data-state={task.state}>
	<p class="now">
		{#if task.undo}{task.undo === 'taken'
				? `${task.yours ? 'You are' : `${task.holder} is`} taking this back`
				: task.undo === 'stuck'
					? 'Taking this back is stuck'
					: 'This is to be taken back'}{:else if task.state === 'taken'}{task.yours
				? 'You have taken this'
				: `${task.holder} has taken this`}{:else if task.state === 'asking'}Waits for an answer of {task.asker}{:else if task.queued}Waits
			for a free place: {task.queued}{:else if task.accepted && task.state === 'ready'}The other side has it
			and will report: {task.automatic}{:else if task.state === 'ready' && !task.automatic}Nobody has taken
			this yet{:else if task.state === 'ready'}Being done by itself: {task.automatic}{:else if task.state === 'blocked'}Waits
			for {list.format(task.waits.map((w) => w.name))}{:else}This is {taskStates[task.state]}{/if}<span
			class="soft since"
			>{#if task.slack !== undefined && !task.endedAt}<b class:warn={task.slack < 0} data-slack
					>{slack(task.slack)}</b
				>
				until it must {task.state === 'taken' ? 'end' : 'begin'}{#if task.late}<b class="warn" data-late
						>, the request is late</b
					>{/if}{:else if task.readyAt && !task.endedAt}ready <When
					time={task.readyAt}
				/>{/if}{#if task.endedAt}<When time={task.endedAt} />{/if}</span
		>
	</p>
	{#if task.trouble}<p class="problem">{task.trouble}</p>{/if}
	{#if task.word}<blockquote data-word>{task.word}</blockquote>{/if}
	{#if task.undoText}<p data-undo>{task.undoText}</p>{/if}
	{#if task.question}
		<blockquote>{task.question.by} asked: {task.question.text}</blockquote>
	{/if}
	{#if task.mustDos.length && !task.undo}
		<ul class="points">
			{#each task.mustDos as point, i (i)}
				<li>
					<label
						><input
							type="checkbox"
							class="checkbox"
							checked={point.done}
							disabled={!may('check') || act.running}
							onchange={(e) => tick(i, e.currentTarget.checked)}
							data-point={i}
						/>
						{point.text}</label
					>
				</li>
			{/each}
		</ul>
	{/if}
	{#if task.lines.length}
		<table class="lines">
			<tbody>
				{#each task.lines as line, i (i)}
					<tr>
						<th scope="row">{line.name}</th>
						<td
							><input
								class="input"
								type="number"
								min="0"
								max={line.of}
								value={line.done}
								disabled={!may('count')}
								aria-label="How many of {line.name} are done"
								onchange={(e) => count(i, Number(e.currentTarget.value))}
								data-line={i}
							/>
							of {line.of}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	{#if may('complete')}
		{#if task.expected}
			<div class="expected" data-expected>
				<strong>Expected to cost {money(task.expected.once)} once</strong>
				<ul>
					{#each task.expected.lines as line, i (i)}
						<li class="small">
							{(line.quantity ?? 0) > 1 ? `${line.quantity} × ` : ''}{line.name}
							<span class="mono">{money(line.sum)} {per[line.per]}</span>
						</li>
					{/each}
				</ul>
			</div>
		{/if}
		{#each wanted as output (output.key)}
			<label class="stack"
				><span
					>{output.name}{#if output.free}<span class="soft"> (if there is one)</span>{/if}</span
				>
				{#if output.kind === 'file'}
					<select
						class="select"
						bind:value={
							() => mine.outputs?.[output.key] ?? output.value ?? '',
							(v) => type({ outputs: { ...mine.outputs, [output.key]: v } })
						}
						data-output-field={output.key}
					>
						<option value="">{task.files.length ? 'Choose a file' : 'Add the file below first'}</option>
						{#each task.files as file (file.id)}<option value={file.id}>{file.name}</option>{/each}
					</select>
				{:else}
					<input
						class="input"
						type={output.kind === 'date' ? 'date' : 'text'}
						inputmode={output.kind === 'money' || output.kind === 'number' ? 'decimal' : undefined}
						bind:value={
							() => mine.outputs?.[output.key] ?? output.value ?? '',
							(v) => type({ outputs: { ...mine.outputs, [output.key]: v } })
						}
						data-output-field={output.key}
					/>
				{/if}
				{#if problemAt(`/outputs/${output.key}`)}<span class="problem small"
						>{problemAt(`/outputs/${output.key}`)}</span
					>{/if}
			</label>
		{/each}
		{#if !task.undo}
			<label class="stack"
				><span>A closing word to {task.asker}, if you like</span>
				<input
					class="input"
					bind:value={() => mine.word ?? '', (word) => type({ word })}
					maxlength="2000"
					data-field="closing"
				/>
			</label>
		{/if}
	{/if}
	<Trouble problem={act.problem} />
	{#if task.allowed.length}
		<div class="buttons">
			{#if may('take')}<button class="btn do" onclick={() => act.run(go.take)} disabled={act.running}
					>Take</button
				>{/if}
			{#if may('retry')}<button class="btn do" onclick={() => act.run(go.retry)} disabled={act.running}
					>{task.automatic ? 'Try again' : 'Go on'}</button
				>{/if}
			{#if may('complete')}<button
					class="btn {may('retry') ? 'plain' : 'do'}"
					onclick={complete}
					disabled={act.running}
					>{task.undo
						? 'Taken back'
						: task.state === 'stuck' || task.accepted
							? 'Done by hand'
							: 'Done'}</button
				>{/if}
			{#if may('askAsker')}<button class="btn plain" onclick={() => tell('ask')} data-do="ask"
					>Ask {task.asker}</button
				>{/if}
			{#if may('handOver')}<button class="btn plain" onclick={() => handing?.showModal()} data-do="hand-over"
					>Hand over</button
				>{/if}
			{#if may('getStuck')}<button class="btn quiet" onclick={() => tell('stuck')} data-do="stuck"
					>Stuck</button
				>{/if}
			{#if may('waive')}<button class="btn quiet" onclick={() => waiving?.showModal()}>Begin earlier</button
				>{/if}
			{#if may('hear')}<Heard request={path.request} task={path.task} people={task.mayAnswer} />{/if}
			{#if may('unask')}<button class="btn quiet" onclick={unask} disabled={act.running} data-do="unask"
					>Take the question back</button
				>{/if}
			{#if may('skip')}<button class="btn quiet" onclick={() => tell('skip')} data-do="skip">Leave out</button
				>{/if}
			{#if may('doubt')}<button class="btn quiet" onclick={() => tell('doubt')} data-do="doubt"
					>Not eligible</button
				>{/if}
			{#if may('complete') && left > 0 && !task.undo}<span class="soft small" data-why-not
					>{left === 1 ? 'One point is' : `${left} points are`} still to be ticked.</span
				>{/if}
		</div>
	{/if}
</div>

{#if task.instructions}
	<section>
		<h2>What to do</h2>
		<p class="instructions">{task.instructions}</p>
	</section>
{/if}
{#if task.answers.length}
	<section>
		<h2>What you need to know</h2>
		<Answers answers={task.answers} request={task.request} task={task.key} />
	</section>
{/if}
{#if task.calls?.length}
	<section>
		<h2>What is asked for: {task.automatic}</h2>
		{#if correcting}
			{#each task.calls as call (call.key)}
				<label class="stack"
					><span>{call.label}</span><textarea
						class="textarea"
						rows={(correcting[call.key] ?? '').length > 80 ? 3 : 1}
						bind:value={correcting[call.key]}
						data-input={call.key}></textarea></label
				>
			{/each}
			<label class="stack"
				><span>Why it is corrected</span><input
					class="input"
					bind:value={reasonToCorrect}
					maxlength="2000"
					data-field="why-correct"
				/></label
			>
			<div class="buttons">
				<button class="btn do" onclick={correct} disabled={act.running || !reasonToCorrect.trim()}
					>Correct and try again</button
				>
				<button class="btn quiet" onclick={() => (correcting = undefined)}>Leave as it is</button>
			</div>
		{:else}
			<Answers answers={task.calls} />
			{#if may('correct')}<button
					class="btn quiet small"
					onclick={() => {
						correcting = Object.fromEntries(task.calls?.map((c) => [c.key, c.text]) ?? []);
						reasonToCorrect = '';
					}}
					data-do="correct">Correct what is asked for</button
				>{/if}
		{/if}
	</section>
{/if}
{#each task.outputs as output (output.key)}
	<p class="output">
		{output.label}:
		{#if output.files?.[0]}<a
				href="/api/requests/{task.request}/files/{output.files[0].id}"
				download={output.text}
				data-output={output.key}>{output.text}</a
			>{:else}<span class="mono" data-output={output.key}>{answerText(output.text)}</span>{/if}
	</p>
{/each}
{#if task.chart}
	<section>
		<h2>The whole plan</h2>
		<PlanChart chart={task.chart} here={task.key} />
	</section>
{/if}
<section>
	<h2>Said and noted</h2>
	{#if may('say')}
		<form
			class="say"
			onsubmit={(e) => {
				e.preventDefault();
				void say();
			}}
		>
			<textarea
				class="textarea"
				rows="2"
				aria-label={staff ? 'A note for staff' : `A word to ${task.asker}`}
				placeholder={staff ? 'A note for staff: the asker never sees it' : `A word to ${task.asker}`}
				bind:value={() => mine.say ?? '', (say) => type({ say })}
				maxlength="2000"
				data-field="say"
				class:staff></textarea>
			<div class="buttons">
				<button class="btn plain" disabled={act.running || !mine.say?.trim()} data-do="say"
					>{staff ? 'Note for staff' : `Write to ${task.asker}`}</button
				>
				<select class="select small" aria-label="Who reads it" bind:value={reader} data-field="readers">
					{#each Object.entries(readers) as [key, words] (key)}<option value={key}>read by {words}</option
						>{/each}
				</select>
				{#if data.replies.entries.length}
					<select
						class="select small"
						aria-label="Put a prepared reply in"
						onchange={(e) => {
							const reply = data.replies.entries.find((r) => r.id === e.currentTarget.value);
							if (reply) type({ say: reply.text });
							e.currentTarget.value = '';
						}}
						data-field="reply"
					>
						<option value="">Prepared reply …</option>
						{#each data.replies.entries as r (r.id)}<option value={r.id}>{r.name}</option>{/each}
					</select>
				{/if}
				<AddFile request={path.request} task={path.task} to={readBy ?? 'task'} />
			</div>
		</form>
	{/if}
	{#each task.files as file (file.id)}
		<p class="small">
			<a href="/api/requests/{task.request}/files/{file.id}" download={file.name}>{file.name}</a>
			<span class="soft">{file.by}, <When time={file.at} /></span>
		</p>
	{/each}
	<ol class="words">
		{#each task.words.toReversed() as word, i (i)}
			<li class={word.kind}>
				<span class="soft small"
					>{at(word.at)}{#if word.kind === 'note'}<br />staff only{/if}</span
				>
				<span
					>{#if word.actor}<strong>{word.actor}:</strong>&nbsp;{/if}{word.remark || word.sentence}
					{#if word.readers}<span class="soft small">(read by {word.readers})</span>{/if}</span
				>
			</li>
		{:else}
			<li class="soft">Nothing yet.</li>
		{/each}
	</ol>
</section>

<dialog bind:this={dialog} aria-labelledby="tell-title">
	<h2 id="tell-title">{tellings[telling].title}</h2>
	<label class="stack"
		><span>{tellings[telling].label}</span><textarea
			class="textarea"
			rows="3"
			bind:value={text}
			maxlength="2000"
			data-field="telling"></textarea></label
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={told} disabled={act.running || !text.trim()} data-do="tell"
			>{tellings[telling].button}</button
		>
		<button class="btn plain" onclick={() => dialog?.close()}>Not now</button>
	</div>
</dialog>
<dialog bind:this={handing} aria-labelledby="hand-title">
	<h2 id="hand-title">Hand over</h2>
	<label class="stack"
		><span>To</span><select class="select" bind:value={to} data-field="to">
			<option value="">Nobody in particular: back to {task.team}</option>
			{#each task.colleagues as c (c.id)}<option value="p{c.id}">{c.name}{c.absent ? ' (absent)' : ''}</option
				>{/each}
			{#if task.upward}<option value="u">{task.upward}, the team upward</option>{/if}
			{#each task.teams as t (t.key)}<option value="t{t.key}">{t.name}</option>{/each}
		</select></label
	>
	<label class="stack"
		><span
			>Why{#if !to.startsWith('t') && to !== 'u'}, if you like{/if}</span
		><input class="input" bind:value={why} maxlength="2000" data-field="why" /></label
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={handOver} disabled={act.running} data-do="hand">Hand over</button>
		<button class="btn plain" onclick={() => handing?.close()}>Keep it</button>
	</div>
</dialog>
<dialog bind:this={waiving} aria-labelledby="waive-title">
	<h2 id="waive-title">Begin before another task ends</h2>
	<label class="stack"
		><span>It need not wait for</span><select class="select" bind:value={after}
			><option value="" disabled>choose</option>{#each task.waits as w (w.key)}<option value={w.key}
					>{w.name}</option
				>{/each}</select
		></label
	>
	<label class="stack"><span>Why</span><input class="input" bind:value={why} maxlength="2000" /></label>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn do" onclick={waive} disabled={act.running || !after || !why.trim()}
			>Let it begin</button
		>
		<button class="btn plain" onclick={() => waiving?.close()}>Not now</button>
	</div>
</dialog>

<style>
	section {
		margin-top: 1.4rem;
	}
	.head {
		display: flex;
		justify-content: space-between;
		gap: 1rem;
	}
	div.do {
		margin-top: 0.9rem;
		padding-block: 0.8rem;
		border-block: 1px solid var(--line-strong);
		display: grid;
		gap: 0.6rem;
	}
	.now {
		font: 600 1.1875rem var(--heading);
	}
	.since {
		font:
			0.875rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
		margin-left: 0.75rem;
	}
	.warn {
		color: var(--buoy-text);
	}
	.points label {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		padding-block: 0.15rem;
	}
	.lines th {
		text-align: left;
		font-weight: 500;
		padding-right: 1rem;
	}
	.lines .input {
		width: 5rem;
		display: inline-block;
	}
	.buttons {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		align-items: center;
	}
	.buttons .select {
		width: auto;
		max-width: 17rem;
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
	.instructions {
		white-space: pre-line;
		max-width: 65ch;
		font-size: 1rem;
	}
	.expected {
		border-left: 4px solid var(--line-strong);
		padding-left: 0.75rem;
	}
	.output {
		margin-top: 1rem;
	}
	blockquote {
		border-left: 4px solid var(--buoy);
		padding: 0.2rem 0.75rem;
		white-space: pre-wrap;
	}
	.say {
		display: grid;
		gap: 0.4rem;
		margin-block: 0.4rem;
	}
	.say .staff {
		background: var(--brass-wash);
	}
	.words li {
		display: grid;
		grid-template-columns: 9.5rem minmax(0, 1fr);
		gap: 0.75rem;
		padding: 0.35rem 0;
		border-bottom: 1px solid var(--line);
		align-items: baseline;
		white-space: pre-line;
	}
	.words .note {
		background: var(--brass-wash);
	}
	@media (max-width: 600px) {
		.words li {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
