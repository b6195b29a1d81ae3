import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	list: await loaded(api.GET('/api/own-list', { fetch }))
});
