import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	places: await loaded(api.GET('/api/places', { fetch }))
});
