import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	background: await loaded(api.GET('/api/background', { fetch })),
	grants: await loaded(api.GET('/api/grants', { fetch }))
});
