<!-- Parts of a side written or pasted as lines: shown at once as they will be; Enter adds them and goes on. -->
<script lang="ts">
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';
	import { getEditor } from './editor.svelte';
	type Line = Schema['LinesLine'];
	type Props = {
		side: 'questions' | 'items' | 'ladder' | 'plan';
		label: string;
		placeholder: string;
		button: string;
		field: string;
		/** What can be put in at the end of a line, by headings. */
		inserts: { heading: string; words: string[] }[];
		/** Lines that show what can be written. */
		examples: string[];
		/** Takes what a line made; alone, it is to be opened. */
		onadd: (line: Line, alone: boolean) => void;
	};
	let { side, label, placeholder, button, field, inserts, examples, onadd }: Props = $props();
	const editor = getEditor();
	const id = $props.id();

	let text = $state('');
	let read = $state.raw<{ text: string; lines: Line[] }>({ text: '', lines: [] });
	let trouble = $state('');
	let area = $state<HTMLTextAreaElement>();
	let pause: ReturnType<typeof setTimeout> | undefined;
	let asking = 0;
	const rows = $derived(Math.min(text.split('\n').length, 12));
	const good = $derived(read.lines.filter((l) => !l.problems.length).length);

	function typed() {
		clearTimeout(pause);
		pause = setTimeout(() => void look(), 150);
	}
	/** Reads what is written now, unless it was read already. */
	async function look(): Promise<boolean> {
		clearTimeout(pause);
		const written = text;
		const mine = ++asking;
		if (!written.trim()) {
			read = { text: written, lines: [] };
			return true;
		}
		try {
			const document = $state.snapshot(editor.document) as Schema['OfferingDocument'];
			const lines = await unwrap(api.POST('/api/lines', { body: { document, side, text: written } }));
			if (mine !== asking) return false;
			[read, trouble] = [{ text: written, lines: lines.entries }, ''];
			return true;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			trouble = refused.problem.detail;
			return false;
		}
	}
	/** Adds what was understood; what was not stays in the field. */
	async function add(open: boolean) {
		const written = text;
		if (!(await look())) return;
		const more = text.startsWith(written) ? text.slice(written.length) : ''; // typed meanwhile
		const done = read.lines.filter((l) => !l.problems.length);
		if (!done.length) return;
		editor.apart();
		for (const line of done) onadd(line, open && done.length === 1);
		editor.apart();
		text = [...read.lines.filter((l) => l.problems.length).map((l) => l.text), more]
			.filter((t) => t.trim())
			.join('\n');
		await look();
	}
	/** Only with Shift a key breaks the line; what is pasted may. */
	let shifted = false;
	function breaks(e: InputEvent) {
		if (e.inputType === 'insertLineBreak' && !shifted) e.preventDefault();
	}
	function keys(e: KeyboardEvent) {
		shifted = e.shiftKey;
		if (e.key !== 'Enter' || e.shiftKey || e.isComposing) return;
		e.preventDefault();
		void add(false);
	}
	function put(words: string) {
		text += words;
		area?.focus();
		typed();
	}
	/** The words of a line before, in and after what was not understood. */
	function around(line: Line): [string, string, string] {
		const part = line.problems[0]?.part ?? '';
		const at = line.text.indexOf(part);
		if (!part || at < 0) return ['', line.text, ''];
		return [line.text.slice(0, at), part, line.text.slice(at + part.length)];
	}
</script>

<form
	class="lines"
	onsubmit={(e) => {
		e.preventDefault();
		void add(true);
	}}
	data-lines={side}
>
	<label class="caption" for="{id}-text">{label}</label>
	<div class="row">
		<textarea
			id="{id}-text"
			bind:this={area}
			bind:value={text}
			class="textarea"
			{rows}
			{placeholder}
			maxlength="20000"
			oninput={typed}
			onkeydown={keys}
			onbeforeinput={breaks}
			data-field={field}
			aria-describedby="{id}-read"></textarea>
		<button class="btn plain" disabled={!text.trim()}>{button}</button>
	</div>
	<div id="{id}-read" aria-live="polite">
		{#if text.trim()}
			<ul>
				{#each read.lines as line (line.line)}
					{@const [before, part, behind] = around(line)}
					<li data-read={line.problems.length ? 'problem' : 'good'}>
						{#if line.problems.length}
							<span>{before}<mark>{part}</mark>{behind}</span>
							<span class="problem small">{line.problems[0]?.sentence}</span>
						{:else}
							<strong
								>{(line.question?.label ??
									line.section?.name ??
									line.item?.name ??
									line.extra?.name ??
									line.rung?.name ??
									line.task?.name) ||
									'Without words'}</strong
							>
							<span class="soft small">{line.words}</span>
						{/if}
					</li>
				{/each}
			</ul>
			{#if trouble}<p class="problem small">{trouble}</p>{/if}
			{#if good}<p class="hint">
					Enter adds {good === 1 ? 'it' : `these ${good}`}{good < read.lines.length
						? '; the others stay here'
						: ''}.
				</p>{/if}
		{/if}
	</div>
	<div class="row help">
		{#each inserts.filter((i) => i.words.length) as insert (insert.heading)}
			<select
				class="select"
				aria-label="{label}: put in {insert.heading}"
				value=""
				onchange={(e) => {
					put(e.currentTarget.value);
					e.currentTarget.value = '';
				}}
			>
				<option value="" disabled>{insert.heading} …</option>
				{#each insert.words as words (words)}<option value={words}>{words.replace(/^[,:] ?/, '')}</option
					>{/each}
			</select>
		{/each}
		<details>
			<summary class="small">How lines are written</summary>
			<ul>
				{#each examples as example (example)}<li><code>{example}</code></li>{/each}
			</ul>
			<p class="hint">Shift+Enter begins another line; many can be pasted at once.</p>
		</details>
	</div>
</form>

<style>
	.lines {
		display: grid;
		gap: 0.25rem;
		padding-top: 0.3rem;
	}
	.row .textarea {
		flex: 1;
		resize: vertical;
	}
	.help {
		flex-wrap: wrap;
		align-items: center;
	}
	.select {
		width: auto;
		max-width: 11rem;
		min-height: 1.7rem;
		padding-block: 0;
		font-size: 0.8125rem;
	}
	li {
		padding: 0.2rem 0 0.2rem 0.6rem;
		border-left: 3px solid var(--kelp);
		margin-bottom: 0.2rem;
	}
	li[data-read='problem'] {
		border-color: var(--buoy);
	}
	li .problem {
		display: block;
	}
	details li {
		border: 0;
		padding: 0;
	}
	mark {
		background: var(--buoy-wash);
		color: inherit;
		text-decoration: underline wavy var(--buoy);
	}
	code {
		font-family: var(--mono);
		font-size: 0.8125rem;
	}
</style>
