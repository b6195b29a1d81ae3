import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const all = await loaded(api.GET('/api/bundles', { fetch }));
	const wanted = url.searchParams.get('key');
	const key = all.entries.some((b) => b.key === wanted) ? wanted : all.entries[0]?.key;
	return {
		all,
		fresh: url.searchParams.has('new') && Boolean(all.yours),
		opened: key
			? await loaded(api.GET('/api/bundles/{bundle}', { fetch, params: { path: { bundle: key } } }))
			: undefined,
		bundle: all.entries.find((b) => b.key === key)
	};
};
