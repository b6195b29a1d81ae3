import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const words = url.searchParams.get('words') ?? '';
	const query = words ? { words } : {};
	const [found, mine, picks] = await Promise.all([
		loaded(api.GET('/api/offerings', { fetch, params: { query } })),
		loaded(api.GET('/api/requests', { fetch, params: { query: { limit: 30 } } })),
		loaded(api.GET('/api/picks', { fetch }))
	]);
	return { words, found: found.entries, waiting: mine.entries.filter((r) => r.yours), picks: picks.entries };
};
