import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => {
	const [mine, confirm] = await Promise.all([
		loaded(api.GET('/api/requests', { fetch, params: { query: { limit: 50 } } })),
		loaded(api.GET('/api/asked', { fetch }))
	]);
	return { mine, confirm };
};
