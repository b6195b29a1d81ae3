import { api, unwrap, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => {
	try {
		const whose = await unwrap(api.GET('/api/new-password/{token}', { fetch, params: { path: params } }));
		return { whose, trouble: undefined };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		return { whose: undefined, trouble: refused.problem };
	}
};
