import { untrack } from 'svelte';
import { api, unwrap, type Schema } from '$lib/api/client';

type Study = Schema['StudyView'];

/** The studies of one kind of an offering: what runs is looked at again until it ends. */
export class Studies<Whole> {
	all = $state.raw<Study[] | undefined>();
	/** ID of the one at hand. */
	here = $state('');
	/** The one at hand with what it came to, once it has ended. */
	whole = $state.raw<Whole | undefined>();
	#ended = $derived(this.study && this.study.state !== 'running' ? this.study.id : '');
	#timer: ReturnType<typeof setTimeout> | undefined;

	constructor(
		private list: () => Promise<{ entries: Study[] }>,
		read: (study: string) => Promise<Whole>
	) {
		$effect(() => {
			const ended = this.#ended;
			if (!ended) this.whole = undefined;
			else
				void read(ended)
					.catch(() => undefined)
					.then((whole) => ended === this.#ended && (this.whole = whole));
		});
		$effect(() => {
			untrack(() => void this.look());
			return () => clearTimeout(this.#timer);
		});
	}

	get study() {
		return this.all?.find((s) => s.id === this.here);
	}
	get running() {
		return this.all?.some((s) => s.state === 'running') ?? false;
	}

	async look() {
		clearTimeout(this.#timer);
		const out = await this.list().catch(() => undefined);
		if (out) this.all = out.entries;
		if (!this.study) this.here = this.all?.[0]?.id ?? '';
		if (this.running) this.#timer = setTimeout(() => void this.look(), 700);
	}

	/** Goes to one that has just begun. */
	async begun(study: string) {
		this.here = study;
		await this.look();
	}

	async stop(offering: string, study: string) {
		await unwrap(
			api.DELETE('/api/design/{offering}/studies/{study}', { params: { path: { offering, study } } })
		);
		await this.look();
	}
}
