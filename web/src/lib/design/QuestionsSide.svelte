<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import AddLine from './AddLine.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import Lines from './Lines.svelte';
	import Part from './Part.svelte';
	import QuestionParts from './QuestionParts.svelte';
	import Rule from './Rule.svelte';
	import { kindName } from './kinds';
	import { getEditor, keyFrom, move, setDrop } from './editor.svelte';

	type Question = Schema['FormQuestion'];
	const editor = getEditor();
	const questions = $derived(editor.document.questions);
	const sections = $derived(editor.document.sections ?? []);
	const keys = $derived(questions.map((q) => q.key));
	let shared = $state.raw<Question[]>([]);
	let wanted = $state('');
	const sectionName = (q: Question) => sections.find((s) => s.key === q.section)?.name;

	$effect(() => {
		void readShared();
	});
	async function readShared() {
		shared = (await unwrap(api.GET('/api/shared-questions'))).entries;
	}
	setDrop((from, to) => move(questions, from, to - from));

	function put(q: Question) {
		q.key = keyFrom(q.label, keys, 'question');
		questions.push(q);
		editor.open[`/questions#${q.key}`] = true;
	}
	const last = () => questions.at(-1)?.section;
	function add(line: Schema['LinesLine'], alone: boolean) {
		if (line.section) editor.document.sections = [...sections, line.section];
		if (!line.question) return;
		questions.push(line.question);
		if (alone) editor.open[`/questions#${line.question.key}`] = true;
	}
	function addShared() {
		const from = shared.find((q) => q.key === wanted);
		if (from) put({ ...structuredClone(from), shared: from.key, section: last() });
		wanted = '';
	}
	function duplicate(i: number) {
		const copy = $state.snapshot(questions[i]) as Question;
		copy.key = keyFrom(copy.label, keys, 'question');
		questions.splice(i + 1, 0, copy);
		editor.open[`/questions#${copy.key}`] = true;
	}
	function addSection(words: string) {
		editor.document.sections = [
			...sections,
			{
				key: keyFrom(
					words,
					sections.map((s) => s.key),
					'section'
				),
				name: words
			}
		];
	}
	function removeSection(i: number) {
		const gone = editor.document.sections?.splice(i, 1)[0];
		for (const q of questions) if (q.section === gone?.key) delete q.section;
	}
	async function share(q: Question) {
		await unwrap(api.PUT('/api/shared-questions', { body: $state.snapshot(q) as Question }));
		q.shared = q.key;
		await readShared();
	}
	const sharedAs = (q: Question) => shared.find((s) => s.key === q.shared);
	/** What is set otherwise here than in the shared question. */
	const differs = (q: Question) => {
		const from = sharedAs(q) as Record<string, unknown> | undefined;
		const here = $state.snapshot(q) as Record<string, unknown>;
		if (!from) return [];
		return Object.keys({ ...from, ...here }).filter(
			(k) =>
				!['key', 'shared', 'section', 'width'].includes(k) &&
				JSON.stringify(from[k]) !== JSON.stringify(here[k])
		);
	};
	function takeShared(i: number) {
		const q = questions[i];
		const from = q && sharedAs(q);
		if (q && from)
			questions[i] = {
				...structuredClone(from),
				key: q.key,
				shared: from.key,
				section: q.section,
				width: q.width
			};
	}
</script>

<details class="sections" open={sections.length > 0}>
	<summary class="caption">Sections and pages</summary>
	<ol>
		{#each sections as section, i (section.key)}
			<li data-section={section.key}>
				<div class="line">
					<input
						class="input"
						bind:value={section.name}
						aria-label="Heading of section {i + 1}"
						maxlength="200"
					/>
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={section.page ?? false}
							onchange={(e) => (section.page = e.currentTarget.checked || undefined)}
						/> begins a page</label
					>
					<button class="btn quiet small" disabled={i === 0} onclick={() => move(sections, i, -1)}
						>Up<span class="sr-only"> {section.name}</span></button
					>
					<button class="btn quiet small" onclick={() => editor.remove(section.name, () => removeSection(i))}
						>Remove<span class="sr-only"> {section.name}</span></button
					>
				</div>
				<input
					class="input small"
					placeholder="A sentence under the heading"
					aria-label="Text of section {section.name}"
					value={section.text ?? ''}
					oninput={(e) => (section.text = e.currentTarget.value || undefined)}
				/>
				<Rule
					begins="Shown"
					without="always"
					place="/sections/{i}/show"
					value={section.show}
					onrule={(rule) => (section.show = rule || undefined)}
				/>
				<Found place="/sections/{i}" />
			</li>
		{/each}
	</ol>
	<AddLine
		label="Another section"
		placeholder="Its heading"
		button="Add section"
		field="new-section"
		onadd={addSection}
	/>
</details>

<ol>
	{#each questions as question, i (question.key)}
		<Part
			title={question.label || 'Without words'}
			note={[
				kindName(editor.materials.kinds, question.kind),
				question.require === 'true' ? 'needed' : '',
				editor.when(question.show),
				sectionName(question)
			]
				.filter(Boolean)
				.join(', ')}
			place="/questions/{i}"
			part={question.key}
			at={i}
			of={questions.length}
			onmove={(step) => move(questions, i, step)}
			onremove={() => editor.remove(question.label, () => questions.splice(i, 1))}
			onduplicate={() => duplicate(i)}
		>
			{#if question.shared}
				<p class="hint shared" data-shared={question.shared}>
					Shared question “{question.shared}”.
					{#if differs(question).length}Here different: {differs(question).join(', ')}.
						<button class="btn quiet small" onclick={() => takeShared(i)}>Take the shared one again</button
						>{/if}
					<button class="btn quiet small" onclick={() => delete question.shared}>Part from it</button>
				</p>
			{/if}
			<QuestionParts {question} place="/questions/{i}" />
			{#if !question.shared}<button class="btn quiet small share" onclick={() => share(question)}
					>Share this question with other offerings</button
				>{/if}
		</Part>
	{/each}
</ol>
<Lines
	side="questions"
	label="Another question, or many in lines"
	placeholder="At which port? *: Maravel | Sankt Orm"
	button="Add question"
	field="new-question"
	inserts={[
		{
			heading: 'kind of answer',
			words: editor.materials.kinds.filter((k) => k.written).map((k) => `: ${k.name.toLowerCase()}`)
		}
	]}
	examples={[
		'At which port? *: Maravel | Sankt Orm',
		'Zones: several of Offices | Quayside | Fuel dock',
		'First day *: date from today+5 (when the watch begins)',
		'Crew: number 1 to 12',
		'Reason: long text, when Zones has Fuel dock',
		'Papers: table of Number * | Valid until: date',
		'# A section    ## A section on a page of its own'
	]}
	onadd={add}
/>
{#if shared.length}
	<form
		class="addline"
		onsubmit={(e) => {
			e.preventDefault();
			addShared();
		}}
	>
		<Field label="Or a shared question">
			<select class="select" bind:value={wanted} data-field="shared">
				<option value="">choose</option>
				{#each shared as q (q.key)}<option value={q.key}
						>{q.label} ({kindName(editor.materials.kinds, q.kind)})</option
					>{/each}
			</select>
		</Field>
		<button class="btn plain" disabled={!wanted}>Add shared question</button>
	</form>
{/if}

<style>
	.sections {
		border-bottom: 1px solid var(--line);
		padding-bottom: 0.75rem;
	}
	.sections li {
		border-left: 3px solid var(--line-strong);
		padding-left: 0.6rem;
		margin-block: 0.5rem;
		display: grid;
		gap: 0.3rem;
	}
	.line {
		display: flex;
		gap: 0.6rem;
		align-items: center;
	}
	.line .tick {
		white-space: nowrap;
	}
	.shared {
		border-left: 3px solid var(--kelp);
		padding-left: 0.5rem;
	}
	.share {
		justify-self: start;
	}
</style>
