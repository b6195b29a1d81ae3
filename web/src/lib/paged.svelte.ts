/** A list whose first page is read with the screen, and the others as one scrolls. */
type Page = { entries: unknown[]; next?: string };
type Entry<P extends Page> = P['entries'][number];

export class Paged<P extends Page> {
	#first: () => P;
	#read: (after: string) => Promise<P>;
	#rest = $state.raw<{ of: P; pages: P[] } | undefined>();

	constructor(first: () => P, read: (after: string) => Promise<P>) {
		this.#first = first;
		this.#read = read;
	}

	/** Further pages count only for the first page they followed; a list read anew begins anew. */
	pages = $derived.by(() => [this.#first(), ...(this.#rest?.of === this.#first() ? this.#rest.pages : [])]);
	entries = $derived.by(() => this.pages.flatMap((page) => page.entries as Entry<P>[]));
	next = $derived.by(() => this.pages.at(-1)?.next);

	more = async () => {
		const of = this.#first();
		// A page can be empty, and say from where it goes on.
		for (let page: P | undefined; this.next && of === this.#first() && !page?.entries.length;) {
			page = await this.#read(this.next);
			if (of === this.#first()) this.#rest = { of, pages: [...this.pages.slice(1), page] };
		}
	};
}
