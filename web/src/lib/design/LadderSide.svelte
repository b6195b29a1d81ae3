<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from './Cel.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import Lines from './Lines.svelte';
	import Many from './Many.svelte';
	import Part from './Part.svelte';
	import Rule from './Rule.svelte';
	import Sources from './Sources.svelte';
	import { askingForPeople, inWords } from './sources';
	import { getEditor, move, setDrop } from './editor.svelte';

	const editor = getEditor();
	const ladder = $derived(editor.document.ladder);
	const questions = $derived(editor.document.questions.filter((q) => q.kind !== 'statement'));
	setDrop((from, to) => move(ladder, from, to - from));
	function shows(rung: Schema['LadderRung'], key: string, on: boolean) {
		const all = rung.facts?.length ? rung.facts : questions.map((q) => q.key);
		const next = on ? [...all, key] : all.filter((k) => k !== key);
		rung.facts = next.length === questions.length ? undefined : next;
	}

	function add(line: Schema['LinesLine'], alone: boolean) {
		if (!line.rung) return;
		ladder.push(line.rung);
		if (alone) editor.open[`/ladder#${line.rung.key}`] = true;
	}
	const teams = $derived(editor.materials.teams.map((t) => t.name));

	const named = {
		team: (key: string) => editor.materials.teams.find((t) => t.key === key)?.name ?? '',
		person: (login: string) => editor.person(login) || login,
		question: (key: string) => asking.find((q) => q.key === key)?.label ?? ''
	};
	const asking = $derived(askingForPeople(editor.document.questions));
	/** Who, how many of them, when, and how long they have. */
	const note = (rung: Schema['LadderRung']) =>
		[
			rung.approvers.map((a) => inWords(a, named)).join(' and '),
			quorumWords(rung.quorum),
			editor.when(rung.when),
			rung.limit && `within ${rung.limit}`
		]
			.filter(Boolean)
			.join(', ');
	const quorumWords = (quorum: string) =>
		quorum === 'any' ? '' : quorum === 'all' ? 'all of them' : `${quorum} of them`;

	/** How many must say yes: any, all, a number or a share. */
	const kindOf = (quorum: string) =>
		quorum === 'any' || quorum === 'all' ? quorum : quorum.endsWith('%') ? 'share' : 'number';
	const flags = [
		{ key: 'afresh', words: 'Who approved on an earlier rung decides again' },
		{ key: 'sendBack', words: 'A decline returns the request to the asker instead of ending it' },
		{ key: 'noPrice', words: 'The price is not shown, and its rise asks nobody again' }
	] as const;
	const atLimit = {
		remind: 'they are reminded',
		escalate: 'their manager is asked as well',
		decline: 'it is declined',
		approve: 'it is approved'
	} as const;
	function limit(rung: Schema['LadderRung'], text: string) {
		rung.limit = text || undefined;
		if (!text) rung.then = rung.remind = undefined;
	}
	const shares = (list: string[]) =>
		[...new Set(list.map((text) => parseInt(text, 10)))].filter((n) => n > 0).sort((a, b) => a - b);
</script>

{#if ladder.length === 0}
	<p class="soft">No decision is needed: the work begins as soon as a request is sent.</p>
{/if}
<ol>
	{#each ladder as rung, i (rung.key)}
		<Part
			title="{i + 1}. {rung.name}"
			note={note(rung)}
			place="/ladder/{i}"
			part={rung.key}
			at={i}
			of={ladder.length}
			onmove={(step) => move(ladder, i, step)}
			onremove={() => editor.remove(rung.name, () => ladder.splice(i, 1))}
		>
			<Field label="Name"><input class="input" bind:value={rung.name} maxlength="200" /></Field>
			<Sources name="Who decides" list={rung.approvers} onlist={(list) => (rung.approvers = list)} />
			<Found place="/ladder/{i}/approvers" />
			<div class="row">
				<Field label="How many must say yes">
					<select
						class="select short"
						value={kindOf(rung.quorum)}
						onchange={(e) =>
							(rung.quorum = { number: '2', share: '60%' }[e.currentTarget.value] ?? e.currentTarget.value)}
						data-field="quorum"
					>
						<option value="any">any one of them</option>
						<option value="all">all of them</option>
						<option value="number">a number of them</option>
						<option value="share">a share of them</option>
					</select>
				</Field>
				{#if kindOf(rung.quorum) === 'number'}
					<Field label="Yes votes">
						<input
							class="input tiny"
							type="number"
							min="1"
							max="50"
							value={rung.quorum}
							oninput={(e) => e.currentTarget.value && (rung.quorum = e.currentTarget.value)}
							data-field="votes"
						/>
					</Field>
				{:else if kindOf(rung.quorum) === 'share'}
					<Field label="Per cent, rounded up">
						<input
							class="input tiny"
							type="number"
							min="1"
							max="100"
							value={rung.quorum.replace('%', '')}
							oninput={(e) => e.currentTarget.value && (rung.quorum = `${e.currentTarget.value}%`)}
							data-field="share"
						/>
					</Field>
				{/if}
			</div>
			<Found place="/ladder/{i}/quorum" />
			<Rule
				begins="Asked"
				without="always"
				place="/ladder/{i}/when"
				value={rung.when}
				onrule={(rule) => (rung.when = rule)}
			/>
			<Cel
				titled
				label="What there is to decide"
				place="/ladder/{i}/say"
				value={rung.say ?? ''}
				text
				rows={1}
				onrule={(text) => (rung.say = text || undefined)}
			/>
			<div class="row">
				<Field
					label="To be decided within"
					hint="Working time: 8h, 2d. Empty: {editor.materials.usual.decideWithin}, then it expires."
				>
					<input
						class="input short"
						value={rung.limit ?? ''}
						oninput={(e) => limit(rung, e.currentTarget.value)}
						maxlength="20"
						data-field="limit"
					/>
				</Field>
				{#if rung.limit}
					<Field label="After that">
						<select class="select" bind:value={() => rung.then ?? 'remind', (then) => (rung.then = then)}>
							{#each Object.entries(atLimit) as [key, words] (key)}<option value={key}>{words}</option>{/each}
						</select>
					</Field>
					<Field label="Reminders, per cent of the time">
						<Many
							placeholder="50, 80"
							field="rung-reminders"
							value={(rung.remind ?? []).map(String)}
							onlist={(list) => {
								const all = shares(list);
								rung.remind = all.length ? all : undefined;
							}}
						/>
					</Field>
				{/if}
			</div>
			<Found place="/ladder/{i}/limit" />
			<Found place="/ladder/{i}/then" />
			{#each rung.remind ?? [] as share, j (share)}<Found place="/ladder/{i}/remind/{j}" />{/each}
			<details>
				<summary class="caption">More: nobody found, asked again, declined, price</summary>
				<Sources
					name="When nobody of them can decide (else the owner of the service)"
					few
					list={rung.fallback ?? []}
					onlist={(list) => (rung.fallback = list.length ? list : undefined)}
				/>
				{#each flags as flag (flag.key)}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={rung[flag.key] ?? false}
							onchange={(e) => (rung[flag.key] = e.currentTarget.checked || undefined)}
						/>
						{flag.words}</label
					>
				{/each}
			</details>
			<details>
				<summary class="caption">Answers they see: {rung.facts?.length ? rung.facts.length : 'all'}</summary>
				{#each questions as question (question.key)}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={!rung.facts?.length || rung.facts.includes(question.key)}
							onchange={(e) => shows(rung, question.key, e.currentTarget.checked)}
						/>
						{question.label}</label
					>
				{/each}
			</details>
		</Part>
	{/each}
</ol>
<Lines
	side="ladder"
	label="Another decision, or many in lines"
	placeholder="Line manager, within 2d"
	button="Add rung"
	field="new-rung"
	inserts={[
		{
			heading: 'who decides',
			words: [
				...['Line manager', 'Line manager of who it is for', 'Manager 2 up', 'Owner of the cost centre'],
				'Owner of the service',
				...teams.map((team) => `Lead of ${team}`),
				...teams.map((team) => `All of ${team}`),
				...asking.map((q) => `Who is named in ${q.label}`)
			]
		},
		{ heading: 'how many', words: [', all of them', ', 2 of them', ', 60 % of them'] },
		{ heading: 'until when', words: [', within 2d', ', then it is declined', ', then their manager'] }
	]}
	examples={[
		'Line manager, within 2d',
		'Safety: lead of Crewing and lead of Keys & Badges, all of them',
		'Owner of the service, when cost is more than 500',
		'Ragnhild Quist, within 8h, then their manager'
	]}
	onadd={add}
/>

<style>
	.tiny {
		width: 7rem;
	}
	.short {
		width: 14rem;
	}
</style>
