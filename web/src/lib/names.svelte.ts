import { SvelteMap } from 'svelte/reactivity';
import { api, Refused, unwrap } from '$lib/api/client';
import type { Choice } from '$lib/ui/Picker.svelte';

type Named = { key: string; name: string };
type Find = (query: { words?: string; keys?: string[] }) => Promise<{ entries: Named[] }>;

/** What is kept by its key and found by words, as there can be thousands: what was found once is known by name. */
export class Names {
	#known = new SvelteMap<string, string>();
	#find: Find;
	#label: (one: Named) => string;

	constructor(find: Find, label = (one: Named) => one.name) {
		this.#find = find;
		this.#label = label;
	}

	/** The name; the key until it is known. */
	of = (key: string) => this.#known.get(key) ?? key;

	look = async (words: string): Promise<Choice[]> => this.#learn((await this.#find({ words })).entries);

	/** Asks for the names of keys, once; what is not answered goes by its key. */
	async know(keys: string[]) {
		const unknown = keys.filter((key) => key && !this.#known.has(key));
		if (!unknown.length) return;
		for (const key of unknown) this.#known.set(key, key); // until it is answered
		try {
			this.#learn((await this.#find({ keys: unknown.slice(0, 50) })).entries);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
		}
	}

	#learn(entries: Named[]): Choice[] {
		for (const one of entries) this.#known.set(one.key, this.#label(one));
		return entries.map((one) => ({ key: one.key, label: this.of(one.key) }));
	}
}

export const costCentres = new Names(
	(query) => unwrap(api.GET('/api/cost-centres', { params: { query } })),
	(c) => (c.name === c.key ? c.name : `${c.name} (${c.key})`)
);

const designed = (asked: boolean) =>
	new Names(
		(query) =>
			unwrap(
				api.GET('/api/portfolio/offerings', { params: { query: { ...query, asked: asked && !query.keys } } })
			),
		(o) => o.name || 'Without a name'
	);
/** Offerings that one designs. */
export const ownOfferings = designed(false);
/** Those of them that can be asked for; by their keys, what has ended, too. */
export const askedOfferings = designed(true);
