import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	slip: await loaded(api.GET('/api/slip', { fetch }))
});
