import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	have: await loaded(api.GET('/api/belongings', { fetch })),
	joined: await loaded(api.GET('/api/joined', { fetch })),
	secrets: (await loaded(api.GET('/api/secrets', { fetch }))).entries
});
