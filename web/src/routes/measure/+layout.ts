import { api, door, Refused, unwrap } from '$lib/api/client';
import { usualDesk } from '$lib/measure/sentence';
import { error, redirect } from '@sveltejs/kit';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => {
	try {
		return { desk: await unwrap(api.GET('/api/measure', { fetch })), measures: true };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		if (refused.problem.status === 401) redirect(307, door());
		// who measures nothing themself may still see boards that others share
		if (refused.problem.status === 404) return { desk: usualDesk, measures: false };
		error(refused.problem.status || 503, refused.problem.detail);
	}
};
