import { api, loaded } from '$lib/api/client';
import { sorted } from '$lib/query';
import type { PageLoad } from './$types';

/** What waits, with the answers to compare. */
export const load: PageLoad = async ({ fetch, url }) => {
	const query = { ...sorted(url.searchParams), state: 'waiting', limit: 50, answers: true } as const;
	return { waiting: await loaded(api.GET('/api/decisions', { fetch, params: { query } })) };
};
