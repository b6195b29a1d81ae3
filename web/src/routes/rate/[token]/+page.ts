import { api, unwrap } from '$lib/api/client';
import { linked } from '$lib/api/link';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params, url }) => ({
	rating: await linked(unwrap(api.GET('/api/rate/{token}', { fetch, params: { path: params } }))),
	token: params.token,
	stars: Number(url.searchParams.get('stars')) || 0
});
