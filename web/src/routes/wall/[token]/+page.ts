import { api, Refused, unwrap, type Schema } from '$lib/api/client';
import type { PageLoad } from './$types';

/** A board shown to whoever has the link; nobody signs in. */
export const load: PageLoad = async ({ fetch, params }) => {
	const path = { token: params.token };
	try {
		return { path, wall: await unwrap(api.GET('/api/wall/{token}', { fetch, params: { path } })), gone: '' };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		return { path, wall: undefined as Schema['WallBody'] | undefined, gone: refused.problem.detail };
	}
};
