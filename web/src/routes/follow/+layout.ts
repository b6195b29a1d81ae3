import { api, loaded, type Schema } from '$lib/api/client';
import { parts } from '$lib/query';
import type { LayoutLoad } from './$types';

/** How the list of requests is filtered and ordered; it stands in the address. */
type Query = {
	words?: string;
	group?: Schema['GroupCount']['group'];
	sort?: 'changed' | 'likely' | 'due' | 'sent';
};

export const load: LayoutLoad = async ({ fetch, url }) => {
	const query = parts<Query>(url.searchParams, ['words', 'group', 'sort']);
	const [mine, confirm] = await Promise.all([
		loaded(api.GET('/api/requests', { fetch, params: { query: { ...query, limit: 50 } } })),
		loaded(api.GET('/api/parts', { fetch }))
	]);
	return { query, mine, confirm };
};
