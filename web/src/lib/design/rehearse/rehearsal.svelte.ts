import { getContext, setContext } from 'svelte';
import { api, unwrap, Refused, type Schema } from '$lib/api/client';
import type { Editor } from '../editor.svelte';
import type { Trial } from '../trial.svelte';

export type Script = Schema['ScriptScript'];
export type Line = Schema['ScriptLine'];
type Cast = Schema['ScriptCast'];

/** A rehearsal of the draft on the desk: what is said of it, what happened, and the instant one looks at. */
export class Rehearsal {
	/** When it is sent; empty for now, as of when it first ran. */
	send = $state('');
	cast = $state<Cast>({});
	absences = $state<Schema['ScriptAbsence'][]>([]);
	lines = $state<Line[]>([]);
	result = $state.raw<Schema['RehearseRehearsed'] | undefined>();
	frames = $state.raw<Schema['RehearseFrame'][]>([]);
	/** Number of the frame one looks at. */
	here = $state(0);
	moment = $state.raw<Schema['MomentView'] | undefined>();
	running = $state(false);
	trouble = $state.raw<{ text: string; line?: number } | undefined>();
	#editor: Editor;
	#trial: Trial;
	#run = 0;
	#look = 0;

	constructor(editor: Editor, trial: Trial) {
		this.#editor = editor;
		this.#trial = trial;
		this.#recall();
	}

	/** The whole of it as a script. */
	get script(): Script {
		const company = this.absences.length ? { absences: this.absences } : undefined;
		return $state.snapshot({
			format: 'heptad/rehearsal/1' as const,
			asker: this.#trial.asker,
			...(this.#trial.for ? { for: this.#trial.for } : {}),
			send: this.send,
			answers: this.#trial.answers,
			...(company ? { company } : {}),
			cast: this.cast,
			script: this.lines
		}) as Script;
	}

	/** Lives through it anew, and stays at the instant one looks at; or goes to its end. */
	async run(to: 'here' | 'end' = 'here') {
		if (!this.#trial.asker) return;
		if (!this.send) this.send = this.#trial.day ? `${this.#trial.day}T12:00:00Z` : thisMinute();
		const mine = ++this.#run;
		this.running = true;
		const was = this.frames[this.here]?.at;
		try {
			await this.#editor.save();
			const out = await unwrap(
				api.POST('/api/design/{offering}/rehearse', {
					params: { path: { offering: this.#editor.document.key } },
					body: { script: this.script }
				})
			);
			if (mine !== this.#run) return;
			[this.result, this.frames, this.trouble] = [out.result, out.frames, undefined];
			this.#keep();
			const last = Math.max(0, out.frames.length - 1);
			const same = was ? out.frames.findLastIndex((f) => f.at <= was) : last;
			this.go(to === 'end' ? last : Math.max(0, same));
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (mine !== this.#run) return;
			const error = refused.problem.errors?.[0];
			const line = /\/script\/(\d+)$/.exec(error?.place ?? '')?.[1];
			this.trouble = {
				text: error?.sentence ?? refused.problem.detail,
				...(line === undefined ? {} : { line: Number(line) })
			};
		} finally {
			if (mine === this.#run) this.running = false;
		}
	}

	/** Goes to a frame. What is drawn of it is there at once; what each would see follows. */
	go(frame: number) {
		this.here = Math.max(0, Math.min(frame, this.frames.length - 1));
		void this.#see();
	}

	async #see() {
		const frame = this.frames[this.here];
		if (!frame) return;
		const mine = ++this.#look;
		await new Promise((resolve) => setTimeout(resolve, 15)); // while one drags, only the last counts
		if (mine !== this.#look) return;
		const moment = await unwrap(
			api.POST('/api/design/{offering}/rehearse/moment', {
				params: { path: { offering: this.#editor.document.key } },
				body: { script: this.script, at: frame.at, events: frame.events }
			})
		);
		if (mine === this.#look) this.moment = moment;
	}

	/** Has somebody act at the instant one looks at, in place of what was said of them from then on. */
	act(line: Omit<Line, 'at'>) {
		const at = this.frames[this.here]?.at ?? this.send;
		const task = line.task;
		const rest = this.lines.filter(
			(l) =>
				(l.at ?? '') < at ||
				!(l.who === line.who && l.rung === line.rung && l.task === task && decides(l.do) === decides(line.do))
		);
		this.lines = [...rest, { ...line, at } as Line].sort((a, b) => (a.at ?? '').localeCompare(b.at ?? ''));
		void this.run();
	}

	drop(line: number) {
		this.lines = this.lines.filter((_, i) => i !== line);
		void this.run();
	}

	/** Begins with the answers and the mishaps of a case, as somebody of today's company. */
	async from(s: Script) {
		this.#trial.answers = s.answers ?? {};
		const whom = s.for;
		if (whom && typeof whom === 'object') this.#trial.newcomer = whom.name ?? '';
		[this.send, this.cast, this.absences, this.lines] = ['', s.cast ?? {}, [], []];
		await this.run('end');
		this.go(0);
	}

	/** Begins anew, with nothing said. */
	clear() {
		[this.cast, this.absences, this.lines] = [{}, [], []];
		void this.run('end');
	}

	get #place() {
		return `heptad.rehearsal.${this.#editor.document.key}`;
	}
	#keep() {
		const { send, cast, absences, lines } = this;
		const { as, whom, whomName, newcomer, answers } = this.#trial;
		try {
			sessionStorage.setItem(
				this.#place,
				JSON.stringify({ send, cast, absences, lines, trial: { as, whom, whomName, newcomer, answers } })
			);
		} catch {
			// it is only for reloading the page
		}
	}
	#recall() {
		try {
			const kept = JSON.parse(sessionStorage.getItem(this.#place) ?? 'null') as
				(Pick<Rehearsal, 'send' | 'cast' | 'absences' | 'lines'> & { trial: Partial<Trial> }) | null;
			if (!kept) return;
			[this.send, this.cast, this.absences, this.lines] = [kept.send, kept.cast, kept.absences, kept.lines];
			if (!this.#trial.as && Object.keys(this.#trial.answers).length === 0)
				Object.assign(this.#trial, kept.trial);
		} catch {
			// what is kept is of another program
		}
	}
}

/** Now, to the minute, RFC 3339. */
const thisMinute = () => `${new Date().toISOString().slice(0, 16)}:00Z`;

const decides = (d: string | undefined) => ['approve', 'decline', 'askBack', 'passOn'].includes(d ?? '');

const key = Symbol('rehearsal');
export const setRehearsal = (rehearsal: Rehearsal) => setContext(key, rehearsal);
export const getRehearsal = () => getContext<Rehearsal>(key);
