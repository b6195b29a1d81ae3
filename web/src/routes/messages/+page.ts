import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	messages: await loaded(api.GET('/api/messages', { fetch, params: { query: { limit: 50 } } })),
	ways: (await loaded(api.GET('/api/ways', { fetch }))).entries
});
