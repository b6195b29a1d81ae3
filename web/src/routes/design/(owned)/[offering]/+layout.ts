import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch, params }) => ({
	opened: await loaded(api.GET('/api/design/{offering}', { fetch, params: { path: params } }))
});
