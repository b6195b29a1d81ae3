import { api, unwrap } from '$lib/api/client';
import { linked } from '$lib/api/link';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params, url }) => ({
	linked: await linked(unwrap(api.GET('/api/mail/{token}', { fetch, params: { path: params } }))),
	token: params.token,
	answer: url.searchParams.get('answer') ?? ''
});
