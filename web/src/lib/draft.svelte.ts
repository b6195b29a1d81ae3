import { goto } from '$app/navigation';
import { api, asked, door, Refused, type Problem, type Schema } from '$lib/api/client';

type Form = Schema['OpenedForm'];

const pause = 350; // milliseconds of rest before what is typed is saved
const retry = 2000; // milliseconds until it is tried again when the program is away

/**
 * What is typed into a form. Every change goes into this browser at once and to
 * the program shortly after; the browser's copy goes when the program has it.
 */
export class Draft {
	form = $state.raw() as Form;
	answers = $state.raw<Record<string, unknown>>({});
	pending = $state(false);
	problem = $state<Problem | undefined>();

	#place: string;
	#timer: ReturnType<typeof setTimeout> | undefined;
	#saving: Promise<boolean> = Promise.resolve(true);
	#change = 0;

	constructor(form: Form, person: string) {
		this.#place = `heptad-draft:${person}:${form.offering}`;
		this.form = form;
		this.answers = form.answers;
		const kept = this.#kept();
		if (kept) {
			this.answers = kept;
			this.#changed();
		}
	}

	/** What this browser has that the program has not. */
	#kept(): Record<string, unknown> | undefined {
		try {
			return JSON.parse(localStorage.getItem(this.#place) ?? '') as Record<string, unknown>;
		} catch {
			return undefined; // there is nothing, or nothing that can be read
		}
	}

	/** Takes the questions of a changed offering, and keeps the answers. */
	load(form: Form) {
		this.form = form;
		this.#changed();
	}

	answer(key: string, value: unknown) {
		this.answers = { ...this.answers, [key]: value };
		localStorage.setItem(this.#place, JSON.stringify(this.answers));
		this.#changed();
	}

	#changed() {
		this.#change++;
		this.pending = true;
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => void this.flush(), pause);
	}

	/** Saves what is not saved yet; tells whether all of it is. */
	async flush(): Promise<boolean> {
		clearTimeout(this.#timer);
		await this.#saving;
		if (!this.pending) return true;
		this.#saving = this.#save();
		return this.#saving;
	}

	async #save(): Promise<boolean> {
		const change = this.#change;
		try {
			const form = await asked(
				api.PUT('/api/offerings/{offering}/draft', {
					params: { path: { offering: this.form.offering } },
					body: { answers: this.answers }
				})
			);
			this.problem = undefined;
			this.form = form;
			if (change === this.#change) {
				this.pending = false;
				localStorage.removeItem(this.#place);
			}
			return !this.pending;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			this.problem = refused.problem;
			if (refused.problem.status === 401) await goto(door());
			else if (refused.away) this.#timer = setTimeout(() => void this.flush(), retry);
			return false;
		}
	}

	/** Saves as the page goes away, without waiting. */
	leave() {
		if (!this.pending) return;
		const body = JSON.stringify({ answers: this.answers });
		void fetch(`/api/offerings/${this.form.offering}/draft`, {
			method: 'PUT',
			body,
			keepalive: true,
			headers: { 'Content-Type': 'application/json' }
		});
	}

	/** Ends it: nothing is saved any more. */
	forget() {
		clearTimeout(this.#timer);
		this.pending = false;
		localStorage.removeItem(this.#place);
	}
}
