import { error } from '@sveltejs/kit';
import { api, unwrap, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params, url }) => {
	try {
		const rating = await unwrap(api.GET('/api/rate/{token}', { fetch, params: { path: params } }));
		return { rating, token: params.token, stars: Number(url.searchParams.get('stars')) || 0 };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		const { status, detail } = refused.problem;
		error(
			status || 503,
			status === 404 ? 'This link is not right, or not whole. Open it from the mail again.' : detail
		);
	}
};
