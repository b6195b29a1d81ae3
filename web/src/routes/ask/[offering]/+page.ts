import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => ({
	form: await loaded(api.GET('/api/offerings/{offering}/form', { fetch, params: { path: params } }))
});
