<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddLine from './AddLine.svelte';
	import Field from './Field.svelte';
	import Part from './Part.svelte';
	import Rule from './Rule.svelte';
	import { getEditor, keyFrom, move } from './editor.svelte';

	type Question = Schema['FormQuestion'];
	const editor = getEditor();
	const questions = $derived(editor.document.questions);
	let open = $state<Record<string, boolean>>({});

	const kinds: Record<Question['kind'], string> = {
		text: 'Short text',
		longText: 'Long text',
		number: 'Number',
		date: 'Date',
		yesNo: 'Yes or no',
		choice: 'One choice',
		choices: 'Several choices',
		items: 'Item pick'
	};

	function add(words: string) {
		const key = keyFrom(
			words,
			questions.map((q) => q.key),
			'question'
		);
		questions.push({ key, kind: 'text', label: words });
		open[key] = true;
	}
	function become(q: Question, kind: Question['kind']) {
		q.kind = kind;
		if (kind === 'choice' || kind === 'choices') q.choices ??= [];
		else delete q.choices;
		if (kind === 'items') q.items = editor.document.items.list.map((i) => i.key);
		else delete q.items;
		if (kind !== 'text' && kind !== 'longText') delete q.maxLength;
	}
	function addChoice(q: Question, words: string) {
		const choices = (q.choices ??= []);
		for (const line of words
			.split('\n')
			.map((w) => w.trim())
			.filter(Boolean)) {
			choices.push({
				key: keyFrom(
					line,
					choices.map((c) => c.key),
					'choice'
				),
				label: line
			});
		}
	}
	function choiceKey(e: KeyboardEvent, q: Question) {
		const field = e.currentTarget as HTMLInputElement;
		if (e.key !== 'Enter' || !field.value.trim()) return;
		e.preventDefault();
		addChoice(q, field.value);
		field.value = '';
	}
	function pasted(e: ClipboardEvent, q: Question) {
		const text = e.clipboardData?.getData('text') ?? '';
		if (!text.includes('\n')) return;
		e.preventDefault();
		addChoice(q, text);
	}
	function pickable(q: Question, key: string, on: boolean) {
		q.items = on ? [...(q.items ?? []), key] : (q.items ?? []).filter((k) => k !== key);
	}
</script>

<ol>
	{#each questions as question, i (question.key)}
		<Part
			title={question.label || 'Without words'}
			note={kinds[question.kind]}
			place="/questions/{i}"
			first={i === 0}
			last={i === questions.length - 1}
			bind:open={() => open[question.key] ?? false, (o) => (open[question.key] = o)}
			onmove={(step) => move(questions, i, step)}
			onremove={() => editor.remove(question.label, () => questions.splice(i, 1))}
		>
			<div class="pair">
				<Field label="Question"
					><input class="input" bind:value={question.label} maxlength="300" data-field="label" /></Field
				>
				<Field label="Kind">
					<select
						class="select"
						value={question.kind}
						onchange={(e) => become(question, e.currentTarget.value as Question['kind'])}
						data-field="kind"
					>
						{#each Object.entries(kinds) as [key, name] (key)}<option value={key}>{name}</option>{/each}
					</select>
				</Field>
			</div>
			<p class="hint">Rules and placeholders call it <code>answers.{question.key}</code>.</p>
			<Field label="Help"
				><input
					class="input"
					value={question.help ?? ''}
					oninput={(e) => (question.help = e.currentTarget.value)}
					maxlength="2000"
				/></Field
			>

			{#if question.choices}
				<fieldset>
					<legend class="caption">Choices</legend>
					<ul class="choices">
						{#each question.choices as choice, j (choice.key)}
							<li>
								<input class="input" bind:value={choice.label} aria-label="Choice {j + 1}" maxlength="200" />
								<button class="btn quiet small" onclick={() => question.choices?.splice(j, 1)}
									>Remove<span class="sr-only"> {choice.label}</span></button
								>
							</li>
						{/each}
					</ul>
					<input
						class="input"
						placeholder="Another choice, then Enter; or paste a column"
						aria-label="Another choice"
						onkeydown={(e) => choiceKey(e, question)}
						onpaste={(e) => pasted(e, question)}
						data-field="choice"
					/>
				</fieldset>
			{/if}
			{#if question.kind === 'items'}
				<fieldset>
					<legend class="caption">Items that can be picked here</legend>
					{#each editor.document.items.list as item (item.key)}
						<label class="tick"
							><input
								type="checkbox"
								class="checkbox"
								checked={question.items?.includes(item.key)}
								onchange={(e) => pickable(question, item.key, e.currentTarget.checked)}
							/>
							{item.name || item.key}</label
						>
					{:else}
						<p class="soft small">There are no items yet: add them on the <a href="items">items side</a>.</p>
					{/each}
				</fieldset>
			{/if}

			<Rule
				begins="Shown"
				without="always"
				place="/questions/{i}/show"
				value={question.show}
				onrule={(rule) => (question.show = rule)}
			/>
			<Rule
				begins="Needed"
				without="never"
				always="always"
				place="/questions/{i}/require"
				value={question.require}
				onrule={(rule) => (question.require = rule)}
			/>

			{#each question.check ?? [] as check, j (j)}
				<div class="check">
					<Rule
						begins="Good"
						place="/questions/{i}/check/{j}/rule"
						value={check.rule}
						onrule={(rule) => (check.rule = rule)}
					/>
					<Field label="Else the asker reads"
						><input class="input" bind:value={check.message} maxlength="300" data-field="message" /></Field
					>
					<button class="btn quiet small" onclick={() => question.check?.splice(j, 1)}
						>Remove this check</button
					>
				</div>
			{/each}
			<button
				class="btn quiet small add"
				data-do="add-check"
				onclick={() => (question.check = [...(question.check ?? []), { rule: '', message: '' }])}
				>Add a check</button
			>
		</Part>
	{/each}
</ol>
<AddLine
	label="Another question"
	placeholder="What do you ask?"
	button="Add question"
	field="new-question"
	onadd={add}
/>

<style>
	.pair {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 11rem;
		gap: 0.75rem;
	}
	.choices li {
		display: flex;
		gap: 0.5rem;
		padding-block: 0.15rem;
	}
	.choices .input {
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.check {
		display: grid;
		gap: 0.5rem;
		justify-items: start;
		border-top: 1px dotted var(--line-strong);
		padding-top: 0.5rem;
	}
	.check > :global(label) {
		width: 100%;
	}
	.add {
		justify-self: start;
	}
	code {
		font-family: var(--mono);
	}
</style>
