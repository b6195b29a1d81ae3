import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	moving: await loaded(api.GET('/api/moving-in', { fetch }))
});
