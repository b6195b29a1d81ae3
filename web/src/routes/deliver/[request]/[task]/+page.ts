import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => ({
	task: await loaded(api.GET('/api/tasks/{request}/{task}', { fetch, params: { path: params } }))
});
