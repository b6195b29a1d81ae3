import { api, unwrap, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => {
	try {
		return { held: await unwrap(api.GET('/api/held', { fetch })) };
	} catch (refused) {
		if (refused instanceof Refused && refused.problem.status === 404) return { held: undefined };
		throw refused;
	}
};
