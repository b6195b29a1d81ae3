import { api, loaded, unwrap, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => {
	const backups = await loaded(api.GET('/api/backups', { fetch }));
	try {
		return { backups, held: await unwrap(api.GET('/api/held', { fetch })) };
	} catch (refused) {
		if (refused instanceof Refused && refused.problem.status === 404) return { backups, held: undefined };
		throw refused;
	}
};
