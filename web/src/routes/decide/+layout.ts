import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => {
	const [waiting, decided] = await Promise.all([
		loaded(api.GET('/api/decisions', { fetch, params: { query: { state: 'waiting', limit: 50 } } })),
		loaded(api.GET('/api/decisions', { fetch, params: { query: { state: 'decided', limit: 50 } } }))
	]);
	return { waiting, decided };
};
