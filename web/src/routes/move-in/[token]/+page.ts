import { redirect } from '@sveltejs/kit';
import { api, unwrap, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params, parent }) => {
	if ((await parent()).session.person) redirect(307, '/manage/move-in');
	try {
		await unwrap(api.GET('/api/entry/{token}', { fetch, params: { path: params } }));
		return { trouble: undefined };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		return { trouble: refused.problem };
	}
};
