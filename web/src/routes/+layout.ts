import { api, loaded } from '$lib/api/client';
import { waits } from '$lib/waits.svelte';
import { useZone } from '$lib/zone';
import type { LayoutLoad } from './$types';

export const ssr = false;
export const prerender = false;

export const load: LayoutLoad = async ({ fetch, url }) => {
	// Coming to the door and going back through it, who is signed in is asked anew.
	url.searchParams.get('back');
	const before = waits.now;
	const session = await loaded(api.GET('/api/session', { fetch }));
	if (waits.now === before) waits.now = undefined; // else it was told meanwhile, and is newer
	useZone(session.person?.zone);
	return { session };
};
