<!-- A rule in CEL, or a text with placeholders: checked and completed as one types. -->
<script lang="ts">
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';
	import { getRules } from './editor.svelte';

	type Props = {
		label: string;
		/** Its label stands above it, with a word beside if there is one. */
		titled?: boolean;
		aside?: string;
		place: string;
		value: string;
		/** A text with {{ placeholders }} instead of a rule. */
		text?: boolean;
		rows?: number;
		field?: string;
		onrule: (rule: string) => void;
	};
	let { label, titled = false, aside, place, value, text = false, rows = 2, field, onrule }: Props = $props();
	const editor = getRules();
	const id = $props.id();

	let area = $state<HTMLTextAreaElement>();
	let looked = $state.raw({ source: '', problem: '', words: '' });
	const problem = $derived(looked.source === value ? looked.problem : '');
	const words = $derived(looked.source === value ? looked.words : '');
	let names = $state.raw<Schema['OfferingName'][]>([]);
	let found = $state.raw<Schema['OfferingName'][]>([]);
	let at = $state(0);
	let pause: ReturnType<typeof setTimeout> | undefined;
	let asking = 0;

	async function check(source: string) {
		const mine = ++asking;
		try {
			const document = $state.snapshot(editor.document) as Schema['OfferingDocument'];
			const checked = await unwrap(api.POST('/api/rules', { body: { document, place, source } }));
			if (mine !== asking) return;
			names = checked.names;
			looked = { source, problem: source.trim() ? (checked.problem ?? '') : '', words: checked.words ?? '' };
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
		}
	}
	/** The name being typed before the cursor, if it can be one here. */
	function begun(): string {
		const before = area?.value.slice(0, area.selectionStart) ?? '';
		if (text && before.lastIndexOf('{{') <= before.lastIndexOf('}}')) return '';
		return /[a-zA-Z_][\w.]*$/.exec(before)?.[0] ?? '';
	}
	function complete() {
		const word = begun().toLowerCase();
		found = word
			? names.filter((n) => n.name.toLowerCase().includes(word) && n.name.toLowerCase() !== word).slice(0, 8)
			: [];
		at = 0;
	}
	function typed(e: Event) {
		const source = (e.currentTarget as HTMLTextAreaElement).value;
		onrule(source);
		complete();
		clearTimeout(pause);
		pause = setTimeout(() => void check(source), 200);
	}
	function take(name: string) {
		if (!area) return;
		const cursor = area.selectionStart;
		area.setRangeText(name, cursor - begun().length, cursor, 'end');
		found = [];
		onrule(area.value);
		void check(area.value);
		area.focus();
	}
	function insert(name: string) {
		if (!area) return;
		area.setRangeText(text ? `{{ ${name} }}` : name, area.selectionStart, area.selectionEnd, 'end');
		onrule(area.value);
		void check(area.value);
		area.focus();
	}
	function keys(e: KeyboardEvent) {
		if (!found.length) return;
		const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
		if (step) {
			e.preventDefault();
			at = (at + step + found.length) % found.length;
		} else if (e.key === 'Tab' || e.key === 'Enter') {
			e.preventDefault();
			take(found[at]?.name ?? '');
		} else if (e.key === 'Escape') found = [];
	}
</script>

<div class="cel">
	{#if titled}<p class="caption">
			{label}{#if aside}<span class="soft">&nbsp;({aside})</span>{/if}
		</p>{/if}
	<textarea
		class="textarea"
		class:mono={!text}
		{rows}
		bind:this={area}
		aria-label={label}
		aria-invalid={Boolean(problem)}
		aria-describedby="{id}-problem"
		{value}
		oninput={typed}
		onfocus={() => void check(value)}
		onkeydown={keys}
		onblur={() => (found = [])}
		spellcheck={text}
		data-field={field}></textarea>
	{#if found.length}
		<ul role="listbox" aria-label="Names">
			{#each found as name, i (name.name)}
				<li
					role="option"
					aria-selected={i === at}
					onmousedown={(e) => {
						e.preventDefault();
						take(name.name);
					}}
				>
					<code>{name.name}</code> <span class="soft small">{name.label}, {name.type}</span>
				</li>
			{/each}
		</ul>
	{/if}
	{#if names.length}
		<label class="small soft names"
			>Put in <select
				class="select"
				aria-label="{label}: put in a name"
				value=""
				onchange={(e) => {
					insert(e.currentTarget.value);
					e.currentTarget.value = '';
				}}
			>
				<option value="">what it can read …</option>
				{#each names as name (name.name)}<option value={name.name}>{name.label}: {name.name}</option>{/each}
			</select></label
		>
	{/if}
	<p class="small" id="{id}-problem" aria-live="polite">
		{#if problem}<span class="problem">{problem}</span>{:else if words}<span class="soft"
				>Reads: {words}.</span
			>{/if}
	</p>
</div>

<style>
	.cel {
		position: relative;
		width: 100%;
	}
	.textarea {
		width: 100%;
	}
	ul {
		position: absolute;
		z-index: 5;
		left: 0;
		right: 0;
		background: var(--panel);
		box-shadow: 0 4px 14px rgb(19 38 43 / 0.25);
	}
	li {
		padding: 0.2rem 0.5rem;
		cursor: pointer;
	}
	li[aria-selected='true'] {
		background: var(--sound-wash);
	}
	code {
		font-family: var(--mono);
	}
	.names {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
	.names .select {
		width: auto;
		max-width: 18rem;
		min-height: 1.7rem;
		padding-block: 0;
		font-size: 0.8125rem;
	}
</style>
