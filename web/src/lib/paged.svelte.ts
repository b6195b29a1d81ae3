/** A list whose first page is read with the screen, and the others as one scrolls. */
type Page<T> = { entries: T[]; next?: string };

export class Paged<T> {
	#first: () => Page<T>;
	#read: (after: string) => Promise<Page<T>>;
	#rest = $state.raw<{ of: Page<T>; entries: T[]; next?: string } | undefined>();

	constructor(first: () => Page<T>, read: (after: string) => Promise<Page<T>>) {
		this.#first = first;
		this.#read = read;
	}

	/** Further pages count only for the first page they followed; a list read anew begins anew. */
	#further = $derived.by(() => (this.#rest && this.#rest.of === this.#first() ? this.#rest : undefined));
	entries = $derived.by(() => [...this.#first().entries, ...(this.#further?.entries ?? [])]);
	next = $derived.by(() => (this.#further ? this.#further.next : this.#first().next));

	more = async () => {
		const of = this.#first();
		const next = this.next;
		if (!next) return;
		const page = await this.#read(next);
		if (of === this.#first())
			this.#rest = { of, entries: [...(this.#further?.entries ?? []), ...page.entries], next: page.next };
	};
}
