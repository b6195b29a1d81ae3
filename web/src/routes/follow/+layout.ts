import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => ({
	mine: await loaded(api.GET('/api/requests', { fetch, params: { query: { limit: 50 } } }))
});
