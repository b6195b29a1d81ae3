import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => ({
	decision: await loaded(api.GET('/api/decisions/{request}/{rung}', { fetch, params: { path: params } }))
});
