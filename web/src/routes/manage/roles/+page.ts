import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	roles: await loaded(api.GET('/api/roles', { fetch }))
});
