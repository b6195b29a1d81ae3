import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => {
	const [request, ties, secrets] = await Promise.all([
		loaded(api.GET('/api/requests/{request}', { fetch, params: { path: params } })),
		loaded(api.GET('/api/requests/{request}/ties', { fetch, params: { path: params } })),
		loaded(api.GET('/api/secrets', { fetch }))
	]);
	return { request, ties, secrets: secrets.entries.filter((s) => s.request === params.request) };
};
