<!-- A rule as a sentence whose words are the controls; CEL is one step behind. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, asked, Refused, type Schema } from '$lib/api/client';
	import { getEditor } from './editor.svelte';

	type Comparison = Schema['RuleComparison'];
	type Props = {
		/** How the sentence begins: "Shown", "Needed". */
		begins: string;
		/** What the sentence says without a rule; no choice when left out. */
		without?: string;
		/** What the sentence says for the rule true; no choice when left out. */
		always?: string;
		place: string;
		value: string | undefined;
		onrule: (rule: string) => void;
	};
	let { begins, without, always, place, value, onrule }: Props = $props();
	const editor = getEditor();
	const questions = $derived(editor.document.questions);
	const id = $derived(place.replaceAll('/', '-'));

	const comparisons: Record<string, [Comparison['compare'], string][]> = {
		choice: [
			['is', 'is'],
			['isNot', 'is not'],
			['oneOf', 'is one of'],
			['answered', 'is answered'],
			['unanswered', 'is not answered']
		],
		choices: [
			['anyOf', 'has any of'],
			['noneOf', 'has none of']
		],
		yesNo: [
			['is', 'is'],
			['answered', 'is answered']
		],
		date: [
			['notBefore', 'is not before'],
			['before', 'is before'],
			['answered', 'is answered'],
			['unanswered', 'is not answered']
		],
		other: [
			['answered', 'is answered'],
			['unanswered', 'is not answered']
		]
	};
	const comparisonsOf = (q: Schema['FormQuestion'] | undefined) =>
		comparisons[q?.kind ?? 'other'] ?? comparisons.other ?? [];
	const find = (key: string) => questions.find((q) => q.key === key);
	const many = (c: Comparison) => ['oneOf', 'anyOf', 'noneOf'].includes(c.compare);
	const needsValue = (c: Comparison) => !['answered', 'unanswered'].includes(c.compare);

	type Mode = 'without' | 'always' | 'all' | 'any' | 'cel';
	const sentence = untrack(() => editor.sentence(place));
	const first: Mode = untrack(() => {
		if (sentence) return sentence.join;
		if (value === 'true' && always) return 'always';
		if (value) return 'cel';
		return without ? 'without' : 'all';
	});
	let mode = $state<Mode>(first);
	let parts = $state<Comparison[]>(sentence ? structuredClone(sentence.parts) : []);
	let trouble = $state('');
	let writing = 0;

	function fresh(): Comparison {
		const q = questions[0];
		return {
			question: q?.key ?? '',
			compare: comparisonsOf(q)[0]?.[0] ?? 'answered',
			values: q?.kind === 'date' ? ['today'] : []
		};
	}
	function choose(next: Mode) {
		mode = next;
		writing++;
		if (next === 'without') onrule('');
		else if (next === 'always') onrule('true');
		else if (next !== 'cel') {
			if (parts.length === 0) parts = [fresh()];
			void write();
		}
	}
	function ask(part: Comparison, key: string) {
		const q = find(key);
		part.question = key;
		part.compare = comparisonsOf(q)[0]?.[0] ?? 'answered';
		part.values = q?.kind === 'date' ? ['today'] : q?.kind === 'yesNo' ? ['true'] : [];
		void write();
	}
	function compare(part: Comparison, how: Comparison['compare']) {
		part.compare = how;
		if (!needsValue(part)) part.values = [];
		else if (!many(part)) part.values = part.values.slice(0, 1);
		void write();
	}
	function toggle(part: Comparison, key: string, on: boolean) {
		part.values = on ? [...part.values, key] : part.values.filter((v) => v !== key);
		void write();
	}
	/** A sentence that is not whole yet changes nothing. */
	async function write() {
		if (mode !== 'all' && mode !== 'any') return;
		if (parts.some((p) => !p.question || (needsValue(p) && !p.values.some(Boolean)))) return;
		const mine = ++writing;
		try {
			const written = await asked(
				api.POST('/api/sentences', { body: { join: mode, parts: $state.snapshot(parts) } })
			);
			if (mine !== writing) return; // a later change has overtaken it
			trouble = '';
			onrule(written.rule);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			trouble = refused.problem.detail;
		}
	}
</script>

<div class="rule" role="group" aria-label={begins} data-rule={place}>
	<span class="sentence">
		{begins}
		<select
			class="select"
			aria-label="{begins}: when"
			value={mode}
			onchange={(e) => choose(e.currentTarget.value as Mode)}
		>
			{#if without}<option value="without">{without}</option>{/if}
			{#if always}<option value="always">{always}</option>{/if}
			<option value="all">when all of these hold</option>
			<option value="any">when any of these holds</option>
			<option value="cel">by a rule in CEL</option>
		</select>
	</span>
	{#if mode === 'all' || mode === 'any'}
		{#each parts as part, i (i)}
			{@const q = find(part.question)}
			<div class="part">
				<select
					class="select"
					aria-label="Question"
					value={part.question}
					onchange={(e) => ask(part, e.currentTarget.value)}
				>
					{#each questions as question (question.key)}<option value={question.key}
							>{question.label || question.key}</option
						>{/each}
				</select>
				<select
					class="select"
					aria-label="Comparison"
					value={part.compare}
					onchange={(e) => compare(part, e.currentTarget.value as Comparison['compare'])}
				>
					{#each comparisonsOf(q) as [key, words] (key)}<option value={key}>{words}</option>{/each}
				</select>
				{#if needsValue(part)}
					{#if q?.kind === 'date'}
						<select
							class="select"
							aria-label="Day"
							value={part.values[0] === 'today' ? 'today' : 'day'}
							onchange={(e) => {
								part.values = [e.currentTarget.value === 'today' ? 'today' : ''];
								void write();
							}}
						>
							<option value="today">today</option>
							<option value="day">a day</option>
						</select>
						{#if part.values[0] !== 'today'}
							<input
								class="input"
								type="date"
								aria-label="Which day"
								value={part.values[0]}
								onchange={(e) => {
									part.values = [e.currentTarget.value];
									void write();
								}}
							/>
						{/if}
					{:else if q?.kind === 'yesNo'}
						<select
							class="select"
							aria-label="Answer"
							value={part.values[0]}
							onchange={(e) => {
								part.values = [e.currentTarget.value];
								void write();
							}}
						>
							<option value="true">yes</option>
							<option value="false">no</option>
						</select>
					{:else if many(part)}
						<span class="values" role="group" aria-label="Values">
							{#each q?.choices ?? [] as option (option.key)}
								<label
									><input
										type="checkbox"
										class="checkbox"
										checked={part.values.includes(option.key)}
										onchange={(e) => toggle(part, option.key, e.currentTarget.checked)}
									/>
									{option.label}</label
								>
							{/each}
						</span>
					{:else}
						<select
							class="select"
							aria-label="Answer"
							value={part.values[0] ?? ''}
							onchange={(e) => {
								part.values = [e.currentTarget.value];
								void write();
							}}
						>
							<option value="" disabled>choose</option>
							{#each q?.choices ?? [] as option (option.key)}<option value={option.key}>{option.label}</option
								>{/each}
						</select>
					{/if}
				{/if}
				{#if parts.length > 1}
					<button
						class="btn quiet small"
						onclick={() => {
							parts.splice(i, 1);
							void write();
						}}>Remove</button
					>
				{/if}
			</div>
		{/each}
		<button class="btn quiet small" onclick={() => parts.push(fresh())}>Add a comparison</button>
	{:else if mode === 'cel'}
		<textarea
			class="textarea mono"
			rows="2"
			id="cel{id}"
			aria-label="{begins}: CEL"
			value={value ?? ''}
			oninput={(e) => onrule(e.currentTarget.value)}
			spellcheck="false"></textarea>
		<p class="hint">
			Read answers as <code>answers.key</code>, the asker as <code>asker.department</code>, the price as
			<code>cost.monthly</code>, and <code>today</code>.
		</p>
	{/if}
	{#if trouble}<p class="problem small">{trouble}</p>{/if}
</div>

<style>
	.rule {
		display: grid;
		gap: 0.35rem;
		justify-items: start;
	}
	.sentence {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
		align-items: center;
		font-weight: 600;
		font-size: 0.875rem;
	}
	.select,
	.input {
		width: auto;
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
		font-weight: 400;
	}
	.part {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem;
		align-items: center;
		padding-left: 0.9rem;
		border-left: 2px solid var(--sound);
	}
	.values {
		display: flex;
		flex-wrap: wrap;
		gap: 0.1rem 0.9rem;
	}
	.values label {
		display: flex;
		gap: 0.35rem;
		align-items: center;
		font-size: 0.875rem;
	}
	.textarea {
		width: 100%;
	}
	.btn {
		font-weight: 400;
	}
	code {
		font-family: var(--mono);
	}
</style>
