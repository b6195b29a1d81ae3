import { error } from '@sveltejs/kit';
import { api, unwrap, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => {
	try {
		return {
			task: await unwrap(api.GET('/api/supplier/{token}', { fetch, params: { path: params } })),
			token: params.token
		};
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		const { status, detail } = refused.problem;
		error(
			status || 503,
			status === 404 ? 'This link is not right, or not whole. Open it from the mail again.' : detail
		);
	}
};
