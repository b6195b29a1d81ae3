import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch, params }) => {
	const [opened, materials] = await Promise.all([
		loaded(api.GET('/api/design/{offering}', { fetch, params: { path: params } })),
		loaded(api.GET('/api/design', { fetch }))
	]);
	return { opened, materials };
};
