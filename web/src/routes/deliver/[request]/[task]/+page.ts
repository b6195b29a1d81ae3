import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => {
	const [task, replies] = await Promise.all([
		loaded(api.GET('/api/tasks/{request}/{task}', { fetch, params: { path: params } })),
		loaded(api.GET('/api/replies', { fetch, params: { query: params } }))
	]);
	return { task, replies };
};
