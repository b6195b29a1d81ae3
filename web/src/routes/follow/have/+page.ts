import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	have: await loaded(api.GET('/api/belongings', { fetch })),
	secrets: (await loaded(api.GET('/api/secrets', { fetch }))).entries
});
