import { getContext, setContext } from 'svelte';
import { api, unwrap, Refused, type Schema } from '$lib/api/client';
import type { Editor } from './editor.svelte';

/** A trial of the draft: as whom, for whom, on which day, with which answers. Nothing is kept. */
export class Trial {
	/** IDs; as nobody it is tried as somebody who may ask, for nobody as for themselves. */
	as = $state('');
	whom = $state('');
	whomName = $state('');
	day = $state('');
	answers = $state.raw<Record<string, unknown>>({});
	/** What it comes to. */
	form = $state.raw<Schema['TriedForm'] | undefined>();
	trouble = $state('');
	/** ID of whom the program chose to try it as; it is not chosen anew each time. */
	#sample = '';
	#asking = 0;

	constructor(editor: Editor) {
		$effect(() => {
			void editor.opened.revision;
			void this.#run(editor, {
				as: this.as,
				for: this.whom ? { person: this.whom } : {},
				answers: this.answers,
				...(this.day ? { at: `${this.day}T12:00:00Z` } : {})
			});
		});
	}

	async #run(
		editor: Editor,
		body: { as: string; for: Schema['OfferingBeneficiary']; answers: Record<string, unknown>; at?: string }
	) {
		const mine = ++this.#asking;
		try {
			const tried = await unwrap(
				api.POST('/api/design/{offering}/try', {
					params: { path: { offering: editor.document.key } },
					body: { ...body, as: body.as || this.#sample }
				})
			);
			this.#sample ||= tried.as.id;
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
