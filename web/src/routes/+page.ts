import { redirect } from '@sveltejs/kit';
import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, parent }) => {
	const { session } = await parent();
	if (session.person) redirect(307, '/ask');
	return { door: session.demo ? (await loaded(api.GET('/api/door', { fetch }))).entries : [] };
};
