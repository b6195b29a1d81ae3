import type { Schema } from '$lib/api/client';

/** How the list of tasks is filtered and ordered; it stands in the address. */
export type Query = Schema['SavedTaskView'];

export function queryOf(params: URLSearchParams): Query {
	const query: Record<string, string | boolean> = {};
	for (const key of ['team', 'who', 'state', 'service', 'words', 'sort']) {
		const value = params.get(key);
		if (value) query[key] = value;
	}
	if (params.get('late')) query.late = true;
	return query as Query;
}

/** The address of a query, to stand behind a path. */
export function search(query: Query): string {
	const params = new URLSearchParams();
	for (const [key, value] of Object.entries(query)) if (value) params.set(key, String(value));
	const text = params.toString();
	return text ? `?${text}` : '';
}
