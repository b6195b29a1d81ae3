<!-- A rule as a sentence whose words are the controls; CEL is one step behind. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';
	import Cel from './Cel.svelte';
	import Comparison from './Comparison.svelte';
	import { getRules } from './editor.svelte';
	import { factsAt, firstWay, takes } from './facts';

	type Part = Schema['RulePart'];
	type Compared = Schema['RuleComparison'];
	type Props = {
		/** How the sentence begins: "Shown", "Needed". */
		begins: string;
		/** What the sentence says without a rule; no choice when left out. */
		without?: string;
		/** What the sentence says for the rule true; no choice when left out. */
		always?: string;
		/** What the sentence says for one more rule, written for it. */
		ready?: { words: string; rule: string };
		place: string;
		value: string | undefined;
		onrule: (rule: string) => void;
	};
	let { begins, without, always, ready, place, value, onrule }: Props = $props();
	const editor = getRules();
	const facts = $derived(factsAt(place, editor.document, editor.materials));

	type Mode = 'without' | 'always' | 'ready' | 'all' | 'any' | 'cel';
	let mode = $state<Mode>('all');
	let parts = $state<Part[]>([]);
	/** The rule that is shown; what is not whole yet stands beside it. */
	let shown: string | undefined;
	/** Somebody wants it in CEL, though it reads as a sentence. */
	let written = false;
	let trouble = $state('');
	let writing = 0;

	// what is stored is what is shown: also after an undo, a move, or somebody else's change
	$effect.pre(() => {
		const rule = value ?? '';
		const sentence = editor.sentence(rule);
		untrack(() => {
			if (rule !== shown || (mode === 'cel' && sentence && !written)) show(rule, sentence);
		});
	});
	function show(rule: string, sentence: Schema['RuleSentence'] | undefined) {
		writing++;
		const before = mode;
		shown = rule;
		trouble = '';
		parts = [];
		if (rule === '') {
			mode = written ? 'cel' : without ? 'without' : before === 'any' ? 'any' : 'all';
			if (mode === 'all' || mode === 'any') parts = [fresh()]; // one is needed
		} else if (rule === 'true' && always) mode = 'always';
		else if (ready && rule === ready.rule) mode = 'ready';
		else if (sentence && !written) [mode, parts] = [sentence.join, structuredClone(sentence.parts)];
		else mode = 'cel';
	}
	/** Stores a rule that is shown here already. */
	function store(rule: string, typed = false) {
		shown = rule;
		if (!typed) editor.apart();
		onrule(rule);
	}

	function fresh(): Compared {
		const fact = facts.find((f) => !f.barred);
		return {
			question: fact?.path ?? '',
			compare: firstWay(fact),
			as: fact?.sort.as ?? 'text',
			values: fact?.sort.key === 'date' ? ['today'] : fact?.sort.key === 'yesNo' ? ['true'] : []
		};
	}
	const group = (): Part => ({
		question: '',
		compare: 'group',
		as: 'text',
		values: [],
		join: mode === 'any' ? 'all' : 'any',
		parts: [fresh(), fresh()]
	});
	async function choose(next: Mode) {
		const before = mode;
		mode = next;
		written = next === 'cel';
		writing++;
		if (next === 'without') store('');
		else if (next === 'always') store('true');
		else if (next === 'ready') store(ready?.rule ?? '');
		else if (next !== 'cel') {
			if (before === 'cel' && value && !(await reopen())) return;
			if (parts.length === 0) parts = [fresh()];
			for (const part of parts) if (part.compare === 'group') part.join = next === 'any' ? 'all' : 'any';
			void write();
		}
	}
	/** Opens CEL as a sentence again, if it has that shape. */
	async function reopen(): Promise<boolean> {
		const mine = writing;
		const checked = await unwrap(
			api.POST('/api/rules', {
				body: {
					document: $state.snapshot(editor.document) as Schema['OfferingDocument'],
					place,
					source: value ?? ''
				}
			})
		);
		if (mine !== writing) return false; // another choice has overtaken it
		if (checked.sentence) {
			mode = checked.sentence.join;
			parts = structuredClone(checked.sentence.parts);
			return true;
		}
		mode = 'cel';
		written = true;
		trouble = 'This rule does not read as a sentence. Empty it to build one.';
		return false;
	}
	const whole = (c: Compared) =>
		Boolean(c.question) && (takes(editor.materials.sorts, c.compare) === 'none' || c.values.some(Boolean));
	const partWhole = (p: Part) =>
		p.compare === 'group' ? Boolean(p.parts?.length && p.parts.every(whole)) : whole(p);
	/** Stores the sentence, as far as it is whole. */
	async function write(typed = false) {
		if (mode !== 'all' && mode !== 'any') return;
		const mine = ++writing;
		const kept = ($state.snapshot(parts) as Part[]).filter(partWhole);
		if (!kept.length) return;
		editor.forming++;
		try {
			const { rule } = await unwrap(api.POST('/api/sentences', { body: { join: mode, parts: kept } }));
			if (mine !== writing) return; // a later change has overtaken it
			trouble = '';
			editor.reads(rule, { join: mode, parts: kept });
			store(rule, typed);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			trouble = refused.problem.detail;
		} finally {
			editor.forming--;
		}
	}
	function drop(from: unknown[], i: number) {
		from.splice(i, 1);
		void write();
	}
	function add<T extends Compared>(to: T[], part: T) {
		to.push(part);
		void write();
	}
</script>

<div class="rule" role="group" aria-label={begins} data-rule={place}>
	<span class="sentence">
		{begins}
		<select
			class="select"
			aria-label="{begins}: when"
			value={mode}
			onchange={(e) => void choose(e.currentTarget.value as Mode)}
		>
			{#if without}<option value="without">{without}</option>{/if}
			{#if always}<option value="always">{always}</option>{/if}
			{#if ready}<option value="ready">{ready.words}</option>{/if}
			<option value="all">when all of these hold</option>
			<option value="any">when any of these holds</option>
			<option value="cel">by a rule in CEL</option>
		</select>
	</span>
	{#if mode === 'all' || mode === 'any'}
		{#each parts as part, i (i)}
			{#if part.compare === 'group'}
				<div class="group" data-group>
					<select
						class="select"
						aria-label="Of this group"
						bind:value={part.join}
						onchange={() => void write()}
					>
						<option value="any">any of these</option>
						<option value="all">all of these</option>
					</select>
					{#each part.parts ?? [] as inner, j (j)}
						<Comparison
							part={inner}
							{facts}
							whole={whole(inner)}
							removable
							onchange={(typed) => void write(typed)}
							onremove={() => (part.parts?.length === 1 ? drop(parts, i) : drop(part.parts ?? [], j))}
						/>
					{/each}
					<button class="btn quiet small" onclick={() => add(part.parts ?? [], fresh())}
						>Add to this group</button
					>
				</div>
			{:else}
				<Comparison
					{part}
					{facts}
					whole={whole(part)}
					removable={parts.length > 1}
					onchange={(typed) => void write(typed)}
					onremove={() => drop(parts, i)}
				/>
			{/if}
		{/each}
		<span>
			<button class="btn quiet small" onclick={() => add(parts, fresh())}>Add a comparison</button>
			<button class="btn quiet small" onclick={() => add(parts, group())}>Add a group</button>
		</span>
	{:else if mode === 'cel'}
		<Cel label="{begins}: CEL" {place} value={value ?? ''} onrule={(rule) => store(rule, true)} />
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
	.select {
		width: auto;
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
		font-weight: 400;
	}
	.group {
		display: grid;
		gap: 0.35rem;
		justify-items: start;
		border-left: 2px solid var(--brass);
		padding-left: 0.9rem;
	}
	.btn {
		font-weight: 400;
	}
</style>
