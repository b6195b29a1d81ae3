import { api, unwrap } from '$lib/api/client';
import { linked } from '$lib/api/link';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => ({
	task: await linked(unwrap(api.GET('/api/supplier/{token}', { fetch, params: { path: params } }))),
	token: params.token
});
