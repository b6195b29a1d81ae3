<!-- All that a task has: who does it, after what, with which answers, by when, and what comes of it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import Commas from '../Commas.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from '../Found.svelte';
	import Many from '../Many.svelte';
	import Rule from '../Rule.svelte';
	import Ticks from '../Ticks.svelte';
	import { getEditor } from '../editor.svelte';
	import Belonging from './Belonging.svelte';
	import Call from './Call.svelte';
	import Moment from './Moment.svelte';
	import Outputs from './Outputs.svelte';
	import Rescue from './Rescue.svelte';
	import Routes from './Routes.svelte';
	import { askingForPeople } from '../sources';
	import { actionType, become, taskKinds } from './kinds';

	type Task = Schema['PlanTask'];
	let { task, place }: { task: Task; place: string } = $props();
	const editor = getEditor();
	const plan = $derived(editor.document.plan);
	const questions = $derived(editor.document.questions.filter((q) => q.kind !== 'statement'));
	const lists = $derived(questions.filter((q) => ['items', 'table', 'choices'].includes(q.kind)));
	const people = $derived(askingForPeople(questions));
	const action = $derived(actionType(editor.portfolio.connectors, task.action));
	const worked = $derived(task.kind === 'manual' || task.kind === 'automatic');
	const listName = (key: string | undefined) =>
		key === 'belongings' ? 'each thing they have' : (questions.find((q) => q.key === key)?.label ?? key);

	type DueBy = '' | 'within' | 'moment';
	const dueBy = $derived<DueBy>(!task.due ? '' : task.due.within !== undefined ? 'within' : 'moment');
	function due(by: string) {
		const remind = task.due?.remind;
		task.due = by === '' ? undefined : by === 'within' ? { within: '4h', remind } : { of: 'today', remind };
	}
	type WaitBy = 'moment' | 'holds';
	const waitBy = $derived<WaitBy>(task.wait?.holds !== undefined ? 'holds' : 'moment');
	function setUndo(next: Schema['PlanUndo']) {
		task.undo = next.action || next.text ? next : undefined;
	}
	function call(next: Schema['PlanAction'] | undefined) {
		task.action = next;
		const chosen = actionType(editor.portfolio.connectors, next);
		// what takes it back is known with the action, until somebody chooses otherwise
		if (next && chosen?.undo && !task.undo?.text)
			task.undo = { action: { connector: next.connector, do: chosen.undo, inputs: {} } };
		if (chosen && !chosen.free) task.outputs = undefined;
	}
	const poolUse = $derived(!task.pool ? '' : task.pool.adds ? 'adds' : 'takes');
	function pool(use: string) {
		const first = editor.portfolio.pools[0]?.key ?? '';
		task.pool = use
			? { pool: task.pool?.pool ?? first, ...(use === 'adds' ? { adds: true } : {}) }
			: undefined;
	}
	function ask(many: string) {
		const [kind, key = ''] = many.split(' ');
		const before = { enough: task.people?.enough ?? 'all', silence: task.people?.silence };
		task.people = !many
			? undefined
			: kind === 'team'
				? { ...before, team: key }
				: { ...before, question: key };
	}
	const poolName = $derived(editor.portfolio.pools.find((p) => p.key === task.pool?.pool)?.name ?? '');
	const told = $derived({
		time: [
			task.effort && `${task.effort} of work`,
			task.due && (task.due.within ? `due within ${task.due.within}` : 'due at a moment')
		]
			.filter(Boolean)
			.join(', '),
		many: [
			task.each && `for ${listName(task.each)}`,
			task.lines && `line by line of ${listName(task.lines)}`,
			task.people && 'many confirm'
		]
			.filter(Boolean)
			.join(', '),
		out: [
			task.mustDos?.length && `${task.mustDos.length} to tick`,
			task.outputs?.length && task.outputs.map((o) => o.name).join(', ')
		]
			.filter(Boolean)
			.join('; '),
		uses: [
			task.pool && `${task.pool.adds ? 'makes larger' : 'takes from'} ${poolName}`,
			task.belonging &&
				{ make: 'gives', change: 'changes', end: 'ends' }[task.belonging.does] + ' a belonging'
		]
			.filter(Boolean)
			.join('; '),
		rescue: task.rescue
			? [
					editor.portfolio.teams.find((t) => t.key === task.rescue?.team)?.name ?? 'its own team',
					task.rescue.within && `within ${task.rescue.within}`
				]
					.filter(Boolean)
					.join(', ')
			: '',
		undo: task.undo?.action ? 'by itself' : task.undo?.text ? 'by its team' : ''
	});
</script>

{#snippet more(name: string, now: string, none: string)}
	<summary class="caption">{name}: <span class="now" class:soft={!now}>{now || none}</span></summary>
{/snippet}

<div class="pair">
	<Field label="Task"
		><input class="input" bind:value={task.name} maxlength="200" data-field="task-name" /></Field
	>
	<Field label="Done">
		<select
			class="select"
			value={task.kind}
			onchange={(e) => become(task, e.currentTarget.value as Task['kind'])}
			data-field="kind"
		>
			{#each Object.entries(taskKinds) as [key, words] (key)}<option value={key}>{words}</option>{/each}
		</select>
	</Field>
</div>
{#if worked || (task.kind === 'message' && task.words?.to === 'team') || task.undo}
	<Field label={task.kind === 'automatic' ? 'Team that helps when it is stuck' : 'Team'}>
		<select
			class="select short"
			value={task.team ?? ''}
			onchange={(e) => (task.team = e.currentTarget.value)}
			data-field="team"
		>
			<option value="" disabled>choose</option>
			{#each editor.portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
		</select>
	</Field>
	<Found place="{place}/team" />
	{#if worked}<Routes {task} {place} />{/if}
{/if}
{#if plan.length > 1}
	<Ticks
		label="Begins after"
		none=""
		things={plan.filter((t) => t.key !== task.key)}
		list={task.after}
		field="after"
		onlist={(list) => (task.after = list)}
	/>
	<Found place="{place}/after" />
{/if}
<Rule
	begins="Done"
	without="always"
	place="{place}/when"
	value={task.when}
	onrule={(rule) => (task.when = rule || undefined)}
/>

{#if task.kind === 'automatic'}
	<Call label="What it does" place="{place}/action" action={task.action} field="action" onaction={call} />
	<Commas
		label="When it fails, it is tried again after"
		hint="Such as 5s, 1m, 10m. After the last it is stuck, and its team helps. Empty: 1s, 5s, 20s, 2m, 10m."
		field="tries"
		value={task.tries}
		onlist={(list) => (task.tries = list)}
	/>
	<Found place="{place}/tries" />
{:else if task.kind === 'wait' && task.wait}
	<Field label="It ends">
		<select
			class="select short"
			value={waitBy}
			onchange={(e) => (task.wait = e.currentTarget.value === 'holds' ? { holds: '' } : { of: 'today' })}
			data-field="wait"
		>
			<option value="moment">at a moment</option>
			<option value="holds">as soon as a rule holds</option>
		</select>
	</Field>
	<Found place="{place}/wait" />
	{#if waitBy === 'moment'}
		<Moment moment={task.wait} own={task.key} place="{place}/wait" />
	{:else}
		<Rule
			begins="Ends"
			place="{place}/wait/holds"
			value={task.wait.holds}
			onrule={(rule) => task.wait && (task.wait.holds = rule)}
		/>
	{/if}
	<Field label="Working days are those of">
		<select
			class="select short"
			value={task.team ?? ''}
			onchange={(e) => (task.team = e.currentTarget.value || undefined)}
			data-field="wait-team"
		>
			<option value="">the promise</option>
			{#each editor.portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
		</select>
	</Field>
{:else if task.kind === 'message' && task.words}
	<Field label="It is written to">
		<select class="select short" bind:value={task.words.to} data-field="message-to">
			<option value="asker">who asks</option>
			<option value="beneficiary">who it is for</option>
			<option value="followers">those who follow it</option>
			<option value="team">a team</option>
		</select>
	</Field>
	<Cel
		titled
		label="Subject"
		place="{place}/words/subject"
		value={task.words.subject}
		text
		rows={1}
		field="message-subject"
		onrule={(text) => task.words && (task.words.subject = text)}
	/>
	<Cel
		titled
		label="Text"
		place="{place}/words/text"
		value={task.words.text}
		text
		field="message-text"
		onrule={(text) => task.words && (task.words.text = text)}
	/>
{/if}
{#if worked}
	<details open={task.kind === 'manual'}>
		{@render more(
			'What the team sees and reads',
			task.slice?.length ? String(task.slice.length) : '',
			'none'
		)}
		<div class="inner">
			<Ticks
				label="Answers the team sees"
				none="There are no questions yet."
				things={questions.map((q) => ({ key: q.key, name: q.label }))}
				list={task.slice}
				field="slice"
				onlist={(list) => (task.slice = list)}
			/>
			<Cel
				titled
				label="Instructions"
				place="{place}/instructions"
				value={task.instructions ?? ''}
				text
				field="instructions"
				onrule={(text) => (task.instructions = text || undefined)}
			/>
		</div>
	</details>
	<details>
		{@render more('How long, and by when', told.time, task.kind === 'manual' ? 'counted as 4h' : 'at once')}
		<div class="inner">
			<Field label="Working time it takes" hint="Such as 30m, 2h or 1d, in the calendar of its team.">
				<input
					class="input short"
					value={task.effort ?? ''}
					oninput={(e) => (task.effort = e.currentTarget.value || undefined)}
					maxlength="20"
					data-field="effort"
				/>
			</Field>
			<Field label="Due by itself">
				<select
					class="select short"
					value={dueBy}
					onchange={(e) => due(e.currentTarget.value)}
					data-field="due"
				>
					<option value="">no: only the promise presses</option>
					<option value="within">so long after it can begin</option>
					<option value="moment">at a moment</option>
				</select>
			</Field>
			{#if task.due && dueBy === 'within'}
				<Field label="Working time from when it can begin">
					<input class="input short" bind:value={task.due.within} maxlength="20" data-field="within" />
				</Field>
			{:else if task.due}
				<Moment moment={task.due} own={task.key} place="{place}/due" />
			{/if}
			{#if task.due}
				<Commas
					label="Reminders, working time before"
					placeholder="1d, 2h"
					field="task-reminders"
					value={task.due.remind}
					onlist={(list) => task.due && (task.due.remind = list)}
				/>
			{/if}
			<Found place="{place}/due" />
			<Found place="{place}/effort" />
		</div>
	</details>
	<details>
		{@render more('Once, or for each of many', told.many, 'once')}
		<div class="inner">
			<Field label="One task for each of" hint="Rules and texts read the thing as each.name.">
				<select
					class="select short"
					value={task.each ?? ''}
					onchange={(e) => (task.each = e.currentTarget.value || undefined)}
					data-field="each"
				>
					<option value="">nothing: it is done once</option>
					{#each lists as q (q.key)}<option value={q.key}>{q.label}</option>{/each}
					<option value="belongings">the things they have</option>
				</select>
			</Field>
			<Field label="Done line by line" hint="So that three of five can be ticked as they come.">
				<select
					class="select short"
					value={task.lines ?? ''}
					onchange={(e) => (task.lines = e.currentTarget.value || undefined)}
					data-field="lines"
				>
					<option value="">no</option>
					{#each lists.filter((q) => q.kind !== 'choices') as q (q.key)}<option value={q.key}
							>{q.label}</option
						>{/each}
				</select>
			</Field>
			{#if task.kind === 'manual'}
				<Field label="Many confirm at once">
					<select
						class="select short"
						value={task.people?.question
							? `question ${task.people.question}`
							: task.people?.team
								? `team ${task.people.team}`
								: ''}
						onchange={(e) => ask(e.currentTarget.value)}
						data-field="many"
					>
						<option value="">no: one person does it</option>
						{#each people as q (q.key)}<option value="question {q.key}">each in {q.label}</option>{/each}
						{#each editor.portfolio.teams as team (team.key)}<option value="team {team.key}"
								>all of {team.name}</option
							>{/each}
					</select>
				</Field>
				{#if task.people}
					<div class="row">
						<Field label="Enough when" hint="all, any, a number or a share such as 50%.">
							<input class="input" bind:value={task.people.enough} maxlength="10" data-field="enough" />
						</Field>
						<Field label="Or after a silence of" hint="Working time such as 5d. Empty: it waits.">
							<input
								class="input"
								value={task.people.silence ?? ''}
								oninput={(e) => task.people && (task.people.silence = e.currentTarget.value || undefined)}
								maxlength="20"
							/>
						</Field>
					</div>
				{/if}
			{/if}
			<Found place="{place}/each" />
			<Found place="{place}/lines" />
			<Found place="{place}/people" />
		</div>
	</details>
	<details>
		{@render more(
			'To tick, and what comes out',
			told.out,
			action?.outputs.length ? 'what the action gives' : 'nothing'
		)}
		<div class="inner">
			<Field label="Points to tick before it is done, one a line">
				<Many
					rows={3}
					field="must-dos"
					value={task.mustDos ?? []}
					onlist={(list) => (task.mustDos = list.length ? list : undefined)}
				/>
			</Field>
			{#if task.kind === 'manual' || action?.free}<Outputs
					{task}
					{place}
					reply={task.kind === 'automatic'}
				/>{/if}
		</div>
	</details>
	<details>
		{@render more('What it uses, and what they have then', told.uses, 'nothing')}
		<div class="inner">
			<div class="row">
				<Field label="Of what there is only so much">
					<select
						class="select"
						value={poolUse}
						onchange={(e) => pool(e.currentTarget.value)}
						data-field="pool"
					>
						<option value="">it takes nothing</option>
						<option value="takes">it takes a place, or waits for one</option>
						<option value="adds">it makes it one larger</option>
					</select>
				</Field>
				{#if task.pool}
					<Field label="Which">
						<select class="select" bind:value={task.pool.pool} data-field="which-pool">
							{#each editor.portfolio.pools as one (one.key)}<option value={one.key}>{one.name}</option
								>{/each}
						</select>
					</Field>
				{/if}
			</div>
			<Found place="{place}/pool" />
			<Belonging {task} {place} />
			<Found place="{place}/belonging" />
		</div>
	</details>
	<details>
		{@render more('When it is stuck', told.rescue, 'its own team helps')}
		<div class="inner"><Rescue {task} {place} /></div>
	</details>
	<details>
		{@render more('When the request is taken back', told.undo, 'it stays as it is')}
		<div class="inner">
			<Call
				label="What takes it back"
				place="{place}/undo/action"
				action={task.undo?.action}
				known={(action?.outputs ?? task.outputs ?? []).map((o) => o.key)}
				none="nothing by itself"
				field="undo"
				onaction={(next) => setUndo({ action: next })}
			/>
			{#if !task.undo?.action}
				<Cel
					titled
					label="What its team is to do by hand"
					place="{place}/undo/text"
					value={task.undo?.text ?? ''}
					text
					rows={1}
					field="undo-text"
					onrule={(text) => setUndo({ text: text || undefined })}
				/>
			{/if}
			<Found place="{place}/undo" />
		</div>
	</details>
{/if}

<style>
	.short {
		width: auto;
		max-width: 22rem;
	}
	.inner {
		display: grid;
		gap: 0.7rem;
		padding: 0.5rem 0 0.6rem 1rem;
	}
	summary {
		cursor: pointer;
	}
	.now {
		font-weight: 400;
	}
</style>
