import { getContext, setContext } from 'svelte';
import { goto } from '$app/navigation';
import { api, asked, door, Refused, type Problem, type Schema } from '$lib/api/client';

type Opened = Schema['OpenedOffering'];

const pause = 400; // milliseconds of rest before a change is saved
const retry = 2000; // milliseconds until it is tried again when the program is away

/** The draft of an offering on the desk. Change the document: it is saved by itself. */
export class Editor {
	document = $state() as Schema['OfferingDocument'];
	opened = $state.raw() as Opened;
	portfolio = $state.raw() as Schema['PortfolioBody'];
	/** How often all of it was replaced by what is kept. */
	taken = $state(0);
	saving = $state(false);
	problem = $state<Problem | undefined>();

	/** What was removed last, and can be brought back. */
	removed = $state.raw<{ words: string; before: Schema['OfferingDocument'] } | undefined>();

	#saved = $state('');
	#timer: ReturnType<typeof setTimeout> | undefined;
	#under: Promise<void> = Promise.resolve();

	constructor(opened: Opened, portfolio: Schema['PortfolioBody']) {
		this.portfolio = portfolio;
		this.take(opened);
	}

	/** Takes what is kept, in place of what is here. */
	take(opened: Opened) {
		this.taken++;
		this.opened = opened;
		this.document = structuredClone(opened.document);
		this.#saved = JSON.stringify(opened.document);
		this.problem = undefined;
		this.removed = undefined;
	}

	/** Removes a part; it can be brought back until the next is removed. */
	remove(words: string, how: () => void) {
		this.removed = { words, before: $state.snapshot(this.document) as Schema['OfferingDocument'] };
		how();
	}

	/** Brings back what was removed last, and with it everything as it was then. */
	bringBack() {
		if (!this.removed) return;
		this.document = this.removed.before;
		this.removed = undefined;
		this.taken++;
	}

	/** Whether something here is not kept yet. */
	get changed() {
		return JSON.stringify(this.document) !== this.#saved;
	}

	/** Saves soon, if something has changed. */
	soon() {
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
		const document = $state.snapshot(this.document) as Schema['OfferingDocument'];
		this.saving = true;
		try {
			this.opened = await asked(
				api.PUT('/api/design/{offering}', {
					params: { path: { offering: document.key } },
					body: { document, revision: this.opened.revision }
				})
			);
			this.#saved = JSON.stringify(document);
			this.problem = undefined;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			this.problem = refused.problem;
			if (refused.problem.status === 401) await goto(door());
			else if (refused.away) this.#timer = setTimeout(() => void this.save(), retry);
		} finally {
			this.saving = false;
		}
	}

	/** What the examination found at a place or below it. */
	at(place: string) {
		return this.opened.findings.filter((f) => f.place === place || f.place.startsWith(`${place}/`));
	}

	/** The rule at a place as a sentence, when it reads as one. */
	sentence(place: string): Schema['RuleSentence'] | undefined {
		return this.opened.sentences[place];
	}
}

const key = Symbol('editor');
export const setEditor = (editor: () => Editor) => setContext(key, editor);
export const getEditor = () => (getContext(key) as () => Editor)();

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

/** Moves an entry of a list one place. */
export function move<T>(list: T[], from: number, step: -1 | 1) {
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
