import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => ({
	request: await loaded(api.GET('/api/requests/{request}', { fetch, params: { path: params } }))
});
