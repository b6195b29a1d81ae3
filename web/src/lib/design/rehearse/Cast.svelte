<!-- Who asks for what and when, how people and systems behave, and what goes wrong. -->
<script lang="ts">
	import Dialog from '$lib/ui/Dialog.svelte';
	import TimeField from '$lib/ui/TimeField.svelte';
	import { fieldTime, instantOf } from '$lib/zone';
	import { at } from '$lib/words';
	import Preview from '../Preview.svelte';
	import { getEditor } from '../editor.svelte';
	import { getTrial } from '../trial.svelte';
	import Away from './Away.svelte';
	import { getRehearsal, type Line } from './rehearsal.svelte';
	const rehearsal = getRehearsal();
	const editor = getEditor();
	const trial = getTrial();

	let form = $state(false);
	const cast = $derived(rehearsal.cast);
	const result = $derived(rehearsal.result);
	const systems = $derived([
		...new Set(editor.document.plan.flatMap((t) => (t.action?.connector ? [t.action.connector] : [])))
	]);
	const tasks = $derived(editor.document.plan.filter((t) => t.kind === 'manual'));
	const each = $derived(
		typeof cast.tasks === 'object'
			? (cast.tasks.each as Record<string, { factor: number }> | undefined)
			: undefined
	);
	const decide = $derived(
		cast.approvers === 'none' ? 'none' : ((cast.approvers as { after?: string } | undefined)?.after ?? 'PT1H')
	);
	const name = (login: string | undefined) => (login ? (result?.names[login] ?? login) : '');

	function set(change: Partial<typeof cast>) {
		rehearsal.cast = { ...rehearsal.cast, ...change };
		void rehearsal.run();
	}
	function setTask(key: string, factor: number) {
		const rest = typeof cast.tasks === 'object' ? cast.tasks : {};
		const others = Object.fromEntries(Object.entries(each ?? {}).filter(([k]) => k !== key));
		set({ tasks: { ...rest, each: factor > 0 ? { ...others, [key]: { factor } } : others } });
	}
	function setSystem(key: string, refuse: number) {
		const others = Object.fromEntries(Object.entries(cast.systems ?? {}).filter(([k]) => k !== key));
		set({ systems: refuse > 0 ? { ...others, [key]: { refuse } } : others });
	}
	const taskName = (key: string | undefined) =>
		editor.document.plan.find((t) => t.key === key)?.name ?? key ?? '';
	const doing: Record<string, string> = {
		approve: 'approves',
		decline: 'declines',
		askBack: 'asks back',
		complete: 'is done with',
		stuck: 'is stuck on',
		ask: 'asks about',
		answer: 'answers',
		confirm: 'confirms',
		sendBack: 'sends it back',
		withdraw: 'takes it back'
	};
	const told = (line: Line) =>
		[name(line.who), doing[line.do ?? ''] ?? line.do, taskName(line.task), line.reason ?? line.text]
			.filter(Boolean)
			.join(' ');
</script>

<h2>Cast and mishaps</h2>
<div class="who">
	<p>
		<strong>{trial.form?.as.name ?? ''}</strong>
		{#if trial.newcomer || trial.whomName}for <strong>{trial.newcomer || trial.whomName}</strong>{/if}
	</p>
	<p class="small soft">
		{#if trial.form && !trial.form.result.complete}<span class="problem">The form is not complete yet.</span
			>{:else if trial.form}The form is complete.{/if}
	</p>
	<button class="btn plain small" onclick={() => (form = true)} data-do="fill"
		>Who asks, and the form …</button
	>
</div>
<div class="field">
	<span class="fact">Sent</span>
	<TimeField
		value={rehearsal.send ? fieldTime(new Date(rehearsal.send)) : ''}
		label="When it is sent"
		control={{ 'data-field': 'send' }}
		onmoment={(moment) => {
			if (moment) {
				rehearsal.send = instantOf(moment).toISOString();
				void rehearsal.run('end');
			}
		}}
	/>
</div>
<label class="row"
	>Deciders approve <select
		class="select"
		value={decide}
		onchange={(e) =>
			set({ approvers: e.currentTarget.value === 'none' ? 'none' : { after: e.currentTarget.value } })}
		data-field="approvers"
	>
		<option value="PT15M">after 15 minutes</option>
		<option value="PT1H">after an hour</option>
		<option value="P1D">after a working day</option>
		<option value="P5D">after five</option>
		<option value="measured">as was measured</option>
		<option value="none">never</option>
	</select></label
>
<label class="row"
	>The asker <select
		class="select"
		value={cast.asker ?? 'confirms'}
		onchange={(e) => set({ asker: e.currentTarget.value as 'confirms' })}
		data-field="asker"
	>
		<option value="confirms">answers and confirms</option>
		<option value="answers">answers, never confirms</option>
		<option value="silent">is silent</option>
	</select></label
>
{#if tasks.length}
	<details open={Object.keys(each ?? {}).length > 0}>
		<summary>Work takes longer, or less</summary>
		{#each tasks as task (task.key)}
			<label class="row small"
				>{task.name}
				<select
					class="select"
					value={String(each?.[task.key]?.factor ?? 0)}
					onchange={(e) => setTask(task.key, Number(e.currentTarget.value))}
					data-field="factor-{task.key}"
				>
					<option value="0.5">half its effort</option>
					<option value="0">its effort</option>
					<option value="2">twice as long</option>
					<option value="3">three times</option>
					<option value="10">ten times</option>
				</select></label
			>
		{/each}
	</details>
{/if}
{#if systems.length}
	<details open={Object.keys(cast.systems ?? {}).length > 0}>
		<summary>Systems refuse</summary>
		{#each systems as key (key)}
			<label class="row small"
				>{key}
				<select
					class="select"
					value={String(cast.systems?.[key]?.refuse ?? 0)}
					onchange={(e) => setSystem(key, Number(e.currentTarget.value))}
					data-field="refuse-{key}"
				>
					<option value="0">does what is asked</option>
					<option value="1">refuses once</option>
					<option value="2">refuses twice</option>
					<option value="5">refuses five times</option>
					<option value="10000">always refuses</option>
				</select></label
			>
		{/each}
	</details>
{/if}
<details open={rehearsal.absences.length > 0}>
	<summary>Somebody is away</summary>
	<Away />
</details>
{#if rehearsal.lines.length}
	<p class="fact">What you did in their place</p>
	<ol class="lines">
		{#each rehearsal.lines as line, i (i)}
			<li class:wrong={rehearsal.trouble?.line === i}>
				<span class="small"><span class="soft">{line.at ? at(line.at) : ''}</span> {told(line)}</span>
				<button
					class="btn quiet small"
					data-do="undo-act"
					onclick={() => rehearsal.drop(i)}
					aria-label="Not: {told(line)}">not</button
				>
			</li>
		{/each}
	</ol>
{/if}
{#if rehearsal.lines.length || rehearsal.absences.length || Object.keys(cast).length}
	<button class="btn quiet small" onclick={() => rehearsal.clear()}>Take all of it away</button>
{/if}

<Dialog bind:open={form} wide title="Who asks, and the form" name="rehearsed-form">
	<Preview />
	<p>
		<button class="btn do" onclick={() => ((form = false), void rehearsal.run('end'))} data-do="rehearse"
			>Rehearse this</button
		>
	</p>
</Dialog>

<style>
	.who {
		margin-block: 0.4rem 0.6rem;
	}
	.row {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 11rem;
		gap: 0.5rem;
		align-items: center;
		margin-top: 0.35rem;
	}
	.row .select {
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	details {
		margin-top: 0.6rem;
	}
	.lines {
		list-style: none;
		padding: 0;
	}
	.lines li {
		display: flex;
		justify-content: space-between;
		gap: 0.5rem;
		align-items: baseline;
	}
	.wrong {
		border-left: 4px solid var(--buoy);
		padding-left: 0.4rem;
	}
</style>
