import type { Schema } from '$lib/api/client';
import { parts } from '$lib/query';

/** How the list of tasks is filtered and ordered; it stands in the address. */
export type Query = Schema['SavedTaskView'];

export function queryOf(params: URLSearchParams): Query {
	const query = parts<Query>(params, ['team', 'who', 'state', 'service', 'words', 'sort']);
	if (params.get('late')) query.late = true;
	return query;
}
