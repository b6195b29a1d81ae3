import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const words = url.searchParams.get('words') ?? '';
	const [portfolio, offerings] = await Promise.all([
		loaded(api.GET('/api/portfolio', { fetch })),
		loaded(api.GET('/api/portfolio/offerings', { fetch, params: { query: { words } } }))
	]);
	return { words, portfolio, offerings };
};
