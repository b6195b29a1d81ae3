import { getContext, setContext } from 'svelte';
import { api, unwrap, Refused, type Schema } from '$lib/api/client';
import type { Editor } from './editor.svelte';

/** A trial of the draft: as whom, for whom, when, with which answers. Nothing is kept. */
export class Trial {
	/** Logins; as nobody it is tried as somebody who may ask, for nobody as for themselves. */
	as = $state('');
	whom = $state('');
	whomName = $state('');
	/** Name of a newcomer, in place of whom. */
	newcomer = $state('');
	day = $state('');
	answers = $state.raw<Record<string, unknown>>({});
	/** What it comes to. */
	form = $state.raw<Schema['TriedForm'] | undefined>();
	trouble = $state('');
	/** Login of whom the program chose to try it as; it is not chosen anew each time. */
	#sample = '';
	#asking = 0;

	constructor(editor: Editor) {
		$effect(() => {
			void editor.opened.revision;
			void this.#run(editor, {
				asker: this.as,
				for: this.for,
				answers: this.answers,
				...(this.day ? { send: `${this.day}T12:00:00Z` } : {})
			});
		});
	}

	/** Whom it is for, as a script says it; nothing for themselves. */
	get for(): Schema['ScriptPerson'] | string | undefined {
		return this.newcomer ? { name: this.newcomer } : this.whom || undefined;
	}

	/** Login of whom it is tried as. */
	get asker() {
		return this.as || this.form?.as.login || '';
	}

	async #run(
		editor: Editor,
		body: {
			asker: string;
			for: Schema['ScriptPerson'] | string | undefined;
			answers: Record<string, unknown>;
			send?: string;
		}
	) {
		const mine = ++this.#asking;
		try {
			const tried = await unwrap(
				api.POST('/api/design/{offering}/try', {
					params: { path: { offering: editor.document.key } },
					body: { ...body, asker: body.asker || this.#sample }
				})
			);
			this.#sample ||= tried.as.login;
			if (mine === this.#asking) [this.form, this.trouble, editor.tried] = [tried, '', tried.findings];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (mine === this.#asking) [this.form, this.trouble] = [undefined, refused.problem.detail];
		}
	}
}

const key = Symbol('trial');
export const setTrial = (trial: Trial) => setContext(key, trial);
export const getTrial = () => getContext<Trial>(key);
