import { goto } from '$app/navigation';

/** What filters and orders a list stands in the address, so that it can be kept and sent. */

/** Reads the named parts of an address. */
export function parts<T>(params: URLSearchParams, keys: readonly string[]): T {
	const found: Record<string, string> = {};
	for (const key of keys) {
		const value = params.get(key);
		if (value) found[key] = value;
	}
	return found as T;
}

const sorts = ['waiting', 'due', 'cost'] as const;

/** How a list of decisions is filtered and ordered. */
export const sorted = (params: URLSearchParams) => ({
	words: params.get('words') ?? '',
	sort: sorts.find((s) => s === params.get('sort')) ?? sorts[0]
});

/** The parts of an address, to stand behind a path. */
export function search(query: object): string {
	const params = new URLSearchParams();
	for (const [key, value] of Object.entries(query)) if (value) params.set(key, String(value));
	const text = params.toString();
	return text ? `?${text}` : '';
}

/** The address of this page with other words in its query; what is empty is left out. */
export function asked(url: URL, change: Record<string, string>): string {
	const q = new URLSearchParams(url.searchParams);
	for (const [name, value] of Object.entries(change)) {
		if (value) q.set(name, value);
		else q.delete(name);
	}
	return `${url.pathname}?${q}`;
}

/** Goes there, and the person stays where they are on the page. */
export const ask = (url: URL, change: Record<string, string>, replaceState = false) =>
	goto(asked(url, change), { keepFocus: true, noScroll: true, replaceState });
