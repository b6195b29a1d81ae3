import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	next: await loaded(api.GET('/api/measure/next', { fetch }))
});
