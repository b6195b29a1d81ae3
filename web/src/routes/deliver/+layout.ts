import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => ({
	tasks: await loaded(api.GET('/api/tasks', { fetch, params: { query: { limit: 50 } } }))
});
