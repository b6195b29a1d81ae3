import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => ({
	targets: (await loaded(api.GET('/api/targets', { fetch }))).entries
});
