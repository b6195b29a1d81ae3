import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	boards: (await loaded(api.GET('/api/boards', { fetch }))).entries
});
