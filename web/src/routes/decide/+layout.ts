import { api, loaded } from '$lib/api/client';
import { sorted } from '$lib/query';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch, url }) => {
	const query = sorted(url.searchParams);
	const of = (state: 'waiting' | 'decided') =>
		loaded(api.GET('/api/decisions', { fetch, params: { query: { ...query, state, limit: 50 } } }));
	const [waiting, decided] = await Promise.all([of('waiting'), of('decided')]);
	return { waiting, decided, ...query };
};
