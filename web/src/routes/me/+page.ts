import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	profile: await loaded(api.GET('/api/me/profile', { fetch })),
	safety: await loaded(api.GET('/api/me/safety', { fetch }))
});
