import { untrack } from 'svelte';
import { api, unwrap, type Schema } from '$lib/api/client';

type Study = Schema['StudyView'];

/** The studies of one kind of an offering: what runs is looked at again until it ends. */
export class Studies {
	all = $state.raw<Study[] | undefined>();
	/** ID of the one at hand. */
	here = $state('');
	#timer: ReturnType<typeof setTimeout> | undefined;

	constructor(private list: () => Promise<{ entries: Study[] }>) {
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

	async stop(offering: string, study: string) {
		await unwrap(
			api.DELETE('/api/design/{offering}/studies/{study}', { params: { path: { offering, study } } })
		);
		await this.look();
	}
}
