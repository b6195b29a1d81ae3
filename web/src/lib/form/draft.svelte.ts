import { goto } from '$app/navigation';
import { share } from './share';
import { api, unwrap, door, Refused, type Problem, type Schema } from '$lib/api/client';

type Form = Schema['OpenedForm'];
type Beneficiary = Schema['OfferingBeneficiary'];
/** What this browser keeps of a form. */
type Typed = { answers: Record<string, unknown>; for?: Beneficiary };

const pause = 300; // milliseconds of rest before what is typed is saved
const instant = 5; // the same for what is chosen: enough for several at once
const retry = 2000; // milliseconds until it is tried again when the program is away

/**
 * What is typed into a form. Every change goes into this browser at once and to
 * the program shortly after; the browser's copy goes when the program has it.
 */
export class Draft {
	form = $state.raw() as Form;
	answers = $state.raw<Record<string, unknown>>({});
	for = $state.raw<Beneficiary>({});
	pending = $state(false);
	/** Another version of the offering has come: its questions are to be read anew. */
	outdated = $state(false);
	problem = $state<Problem | undefined>();

	#place: string;
	#timer: ReturnType<typeof setTimeout> | undefined;
	#saving: Promise<boolean> = Promise.resolve(true);
	#change = 0;

	constructor(form: Form, person: string) {
		this.#place = `heptad-draft:${person}:${form.returned ? form.draft : form.offering}`;
		this.form = form;
		this.answers = form.answers;
		this.for = form.for;
		const kept = this.#kept();
		if (kept) {
			this.answers = kept.answers;
			this.for = kept.for ?? form.for;
			this.#changed();
		}
	}

	/** The path of the offering, or of the request that was returned. */
	get place() {
		return this.form.returned ? `/api/requests/${this.form.draft}` : `/api/offerings/${this.form.offering}`;
	}

	/** What this browser has that the program has not. */
	#kept(): Typed | undefined {
		try {
			const kept = JSON.parse(localStorage.getItem(this.#place) ?? '') as Partial<Typed>;
			return kept.answers ? (kept as Typed) : undefined;
		} catch {
			return undefined; // there is nothing, or nothing that can be read
		}
	}

	/** Takes the questions of a changed offering, and keeps the answers. */
	load(form: Form) {
		this.form = form;
		this.outdated = false;
		this.#changed();
	}

	/** Takes an answer; what is typed letter by letter waits for a rest. */
	answer(key: string, value: unknown, typing = false) {
		this.answers = { ...this.answers, [key]: value };
		this.#keep(typing ? pause : instant);
	}

	/** Says for whom it is. */
	isFor(beneficiary: Beneficiary) {
		this.for = beneficiary;
		this.#keep();
	}

	#keep(rest = pause) {
		localStorage.setItem(
			this.#place,
			JSON.stringify({ answers: this.answers, for: this.for } satisfies Typed)
		);
		this.#changed(rest);
	}

	#changed(rest = pause) {
		this.#change++;
		this.pending = true;
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => void this.flush(), rest);
	}

	/** Saves what is not saved yet, or begins the draft of a form that was good as it came; reports whether all of it is saved. */
	async flush(begin = false): Promise<boolean> {
		clearTimeout(this.#timer);
		await this.#saving;
		if (!this.pending && !(begin && !this.form.draft)) return true;
		this.#saving = this.#save();
		return this.#saving;
	}

	async #save(): Promise<boolean> {
		const change = this.#change;
		try {
			const saved = await unwrap(
				this.form.returned
					? api.PUT('/api/requests/{request}/draft', {
							params: { path: { request: this.form.draft ?? '' } },
							body: { answers: this.answers }
						})
					: api.PUT('/api/offerings/{offering}/draft', {
							params: { path: { offering: this.form.offering } },
							body: { answers: this.answers, for: this.for }
						})
			);
			this.problem = undefined;
			this.outdated = saved.version !== this.form.version;
			this.form = share(this.form, { ...this.form, ...saved });
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
		const body = JSON.stringify(
			this.form.returned ? { answers: this.answers } : { answers: this.answers, for: this.for }
		);
		void fetch(`${this.place}/draft`, {
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
