import { getContext, setContext } from 'svelte';
import { SvelteMap } from 'svelte/reactivity';
import { goto } from '$app/navigation';
import { api, unwrap, door, Refused, type Problem, type Schema } from '$lib/api/client';

type Opened = Schema['OpenedOffering'];
type Sentence = Schema['RuleSentence'] & { words?: string };

const pause = 400; // milliseconds of rest before a change is saved
const retry = 2000; // milliseconds until it is tried again when the program is away

type Document = Schema['OfferingDocument'];

const step = 800; // milliseconds of rest after which a change is a step of its own
const mostSteps = 200;

/** The draft of an offering on the desk. Change the document: it is saved by itself. */
export class Editor {
	document = $state() as Document;
	opened = $state.raw() as Opened;
	materials = $state.raw() as Schema['MaterialsBody'];
	saving = $state(false);
	/** How many rules are being written, which the document does not have yet. */
	forming = $state(0);
	problem = $state<Problem | undefined>();
	/** Which parts stand open, by their place and key. */
	open = $state<Record<string, boolean>>({});
	/** What was removed last, for saying so. */
	removed = $state('');
	/** What somebody else saved meanwhile, brought together with what is here. */
	other = $state.raw<Schema['MergedBody'] | undefined>();

	/** Sentences by the rule they write: a rule that comes back reads as it did. */
	#sentences = new SvelteMap<string, Sentence>();
	/** Names of people by their login. */
	#names = new SvelteMap<string, string>();
	#saved = $state('');
	#now = $state('');
	#undo = $state.raw<string[]>([]);
	#redo = $state.raw<string[]>([]);
	#changedAt = 0;
	#timer: ReturnType<typeof setTimeout> | undefined;
	#under: Promise<void> = Promise.resolve();

	constructor(opened: Opened, materials: Schema['MaterialsBody']) {
		this.materials = materials;
		this.take(opened);
		this.#undo = [];
	}

	/** Takes what is kept, in place of what is here; that can be undone. */
	take(opened: Opened) {
		this.#open(opened);
		this.#saved = JSON.stringify(opened.document);
		this.problem = undefined;
		this.other = undefined;
		this.#replace(this.#saved);
	}

	#open(opened: Opened) {
		for (const [place, sentence] of Object.entries(opened.sentences)) {
			const rule = valueAt(opened.document, place);
			if (typeof rule === 'string') this.#sentences.set(rule, sentence);
		}
		for (const person of opened.people) this.#names.set(person.key, person.name);
		this.opened = opened;
	}

	#replace(text: string, remember = true) {
		if (remember && this.#now && this.#now !== text) this.#remember();
		this.document = JSON.parse(text) as Document;
		this.#now = text;
		this.apart(); // what is typed now is no part of the step before
		this.removed = '';
	}
	#remember() {
		this.#undo = [...this.#undo, this.#now].slice(-mostSteps);
		this.#redo = [];
	}

	/** Makes the change that comes now a step of its own, however soon it comes. */
	apart() {
		this.#changedAt = 0;
	}

	/** Removes a part, and says so. */
	remove(words: string, how: () => void) {
		this.apart();
		how();
		this.removed = words;
	}

	get canUndo() {
		return this.#undo.length > 0;
	}
	get canRedo() {
		return this.#redo.length > 0;
	}
	/** Goes one step back. */
	undo() {
		const before = this.#undo.at(-1);
		if (before === undefined) return;
		this.#undo = this.#undo.slice(0, -1);
		this.#redo = [...this.#redo, this.#now];
		this.#replace(before, false);
	}
	/** Goes one step forward again. */
	redo() {
		const next = this.#redo.at(-1);
		if (next === undefined) return;
		this.#redo = this.#redo.slice(0, -1);
		this.#undo = [...this.#undo, this.#now];
		this.#replace(next, false);
	}

	/** Whether something here is not kept yet. */
	get changed() {
		return this.#now !== this.#saved;
	}

	/** Whether anything that is shown is not kept yet, or on its way. */
	get unsaved() {
		return this.changed || this.saving || this.forming > 0;
	}

	/** Takes note of a change, and saves it soon. */
	soon() {
		const now = JSON.stringify(this.document);
		if (now !== this.#now) {
			if (Date.now() - this.#changedAt > step) this.#remember();
			this.#changedAt = Date.now();
			this.#now = now;
		}
		clearTimeout(this.#timer);
		if (this.changed) this.#timer = setTimeout(() => void this.save(), pause);
	}

	/** Saves now. Afterwards `problem` says whether it worked. */
	async save() {
		clearTimeout(this.#timer);
		await this.#under;
		if (!this.changed || this.problem?.code === 'draftChanged') return;
		this.#under = this.#send();
		await this.#under;
	}

	async #send() {
		const document = $state.snapshot(this.document) as Document;
		this.saving = true;
		try {
			this.#open(
				await unwrap(
					api.PUT('/api/design/{offering}', {
						params: { path: { offering: document.key } },
						body: { document, revision: this.opened.revision }
					})
				)
			);
			this.#saved = JSON.stringify(document);
			this.problem = undefined;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			this.problem = refused.problem;
			if (refused.problem.status === 401) await goto(door());
			else if (refused.problem.code === 'draftChanged') await this.#meet(document);
			else if (refused.away) this.#timer = setTimeout(() => void this.save(), retry);
		} finally {
			this.saving = false;
		}
	}

	/** Finds out what somebody else changed meanwhile. */
	async #meet(mine: Document) {
		try {
			this.other = await unwrap(
				api.POST('/api/design/{offering}/merge', {
					params: { path: { offering: mine.key } },
					body: { base: JSON.parse(this.#saved) as Document, mine }
				})
			);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			this.problem = refused.problem;
		}
	}

	/** Goes on with both what is here and what somebody else saved. */
	async bringTogether() {
		if (!this.other) return;
		const { document, revision } = this.other;
		this.opened = { ...this.opened, revision, state: 'draft' };
		this.problem = undefined;
		this.other = undefined;
		this.#replace(JSON.stringify(document));
		await this.save();
	}

	/** What the trial of the preview found beside that. */
	tried = $state.raw<Schema['OpenedOffering']['findings']>([]);

	/** What the examination found at a place or below it. */
	at(place: string) {
		return [...this.opened.findings, ...this.tried].filter(
			(f) => f.place === place || f.place.startsWith(`${place}/`)
		);
	}

	/** Whether a side holds something, or was published as it is. */
	begun(side: Side): boolean {
		const d = this.document;
		const holds: Record<Side, boolean> = {
			purpose: Boolean(d.purpose.text),
			audience: Object.values(d.audience).some(Boolean),
			questions: d.questions.length > 0,
			items: d.items.list.length > 0,
			ladder: d.ladder.length > 0,
			plan: d.plan.length > 0,
			promise: Boolean(d.promise.targets?.length)
		};
		return Boolean(this.opened.current) || holds[side];
	}

	/** A rule as a sentence, when it is known to read as one. */
	sentence(rule: string): Sentence | undefined {
		return this.#sentences.get(rule);
	}
	/** When a part counts, in a few words. */
	when(rule: string | undefined): string {
		return rule ? `when ${this.sentence(rule)?.words ?? 'a rule holds'}` : '';
	}
	/** Remembers how a rule reads. */
	reads(rule: string, sentence: Sentence) {
		this.#sentences.set(rule, sentence);
	}

	/** Name of somebody by login. */
	person(login: string | undefined): string {
		return this.#names.get(login ?? '') ?? '';
	}
	/** Remembers somebody who was chosen. */
	knows(login: string, name: string) {
		this.#names.set(login, name);
	}
}

/** What stands at a place of a document (JSON Pointer, RFC 6901). */
function valueAt(document: unknown, place: string): unknown {
	return place
		.split('/')
		.slice(1)
		.reduce<unknown>((at, step) => (at as Record<string, unknown> | undefined)?.[step], document);
}

const key = Symbol('editor');
export const setEditor = (editor: () => Editor) => setContext(key, editor);
export const getEditor = () => (getContext(key) as () => Editor)();

/** What a rule is written with: the offering on the desk, or a bundle. */
export type Rules = Pick<Editor, 'document' | 'sentence' | 'reads' | 'apart' | 'forming'> & {
	materials: Pick<Schema['MaterialsBody'], 'facts' | 'sorts' | 'kinds' | 'teams'>;
};
export const setRules = (rules: () => Rules) => setContext(key, rules);
export const getRules = () => (getContext(key) as () => Rules)();

const dropKey = Symbol('drop');
/** What a list does when one of its parts is dropped on another. */
type Drop = (from: number, to: number) => void;
export const setDrop = (drop: Drop) => setContext(dropKey, drop);
export const getDrop = () => getContext<Drop | undefined>(dropKey);

/** A key made from words, unlike those there are. */
export function keyFrom(words: string, taken: string[], fallback: string): string {
	const parts = words
		.normalize('NFD')
		.replace(/[^a-zA-Z0-9 ]/g, '')
		.trim()
		.split(/\s+/)
		.slice(0, 4);
	const stem = parts
		.map((p, i) => (i ? p.charAt(0).toUpperCase() + p.slice(1).toLowerCase() : p.toLowerCase()))
		.join('');
	const base = /^[a-z]/.test(stem) ? stem.slice(0, 40) : fallback;
	let out = base;
	for (let n = 2; taken.includes(out); n++) out = `${base}${n}`;
	return out;
}

/** A list with a key put in or taken out; nothing when none is left. */
export function ticked(list: string[] | undefined, key: string, on: boolean): string[] | undefined {
	const next = on ? [...(list ?? []), key] : (list ?? []).filter((k) => k !== key);
	return next.length ? next : undefined;
}

/** Moves an entry of a list some places on, or back. */
export function move<T>(list: T[], from: number, step: number) {
	const [entry] = list.splice(from, 1);
	if (entry !== undefined) list.splice(from + step, 0, entry);
}

export const sides = [
	{ key: 'purpose', name: 'Purpose', note: 'what it is for' },
	{ key: 'audience', name: 'Audience', note: 'who may ask' },
	{ key: 'questions', name: 'Questions', note: 'the form' },
	{ key: 'items', name: 'Items', note: 'what can be picked' },
	{ key: 'ladder', name: 'Ladder', note: 'who decides' },
	{ key: 'plan', name: 'Plan', note: 'who does what' },
	{ key: 'promise', name: 'Promise', note: 'how it ends' }
] as const;
export type Side = (typeof sides)[number]['key'];
