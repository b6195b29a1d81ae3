import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	organisation: await loaded(api.GET('/api/organisation', { fetch })),
	moving: await loaded(api.GET('/api/moving-in', { fetch }))
});
