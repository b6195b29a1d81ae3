import { redirect } from '@sveltejs/kit';
import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

/** The way back to where the person came from; only ways within Heptad are taken. */
function way(url: URL): string {
	const back = url.searchParams.get('back') ?? '/ask';
	return /^\/(?![/\\])/.test(back) ? back : '/ask';
}

export const load: PageLoad = async ({ fetch, parent, url }) => {
	const { session } = await parent();
	if (session.person) redirect(307, way(url));
	return { back: way(url), door: session.demo ? await loaded(api.GET('/api/door', { fetch })) : undefined };
};
