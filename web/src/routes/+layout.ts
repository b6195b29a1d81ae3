import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const ssr = false;
export const prerender = false;

export const load: LayoutLoad = async ({ fetch }) => ({
	session: await loaded(api.GET('/api/session', { fetch }))
});
