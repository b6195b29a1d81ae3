import { api, Refused, asked, door } from '$lib/api/client';
import { error, redirect } from '@sveltejs/kit';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const words = url.searchParams.get('words')?.trim() ?? '';
	if (!words) return { words, found: [], problem: undefined };
	try {
		const found = await asked(api.GET('/api/find', { fetch, params: { query: { words } } }));
		return { words, found: found.entries, problem: undefined };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		if (refused.problem.status === 401) redirect(307, door());
		if (refused.problem.status !== 422) error(refused.problem.status || 503, refused.problem.detail);
		return { words, found: [], problem: refused.problem }; // a mistyped reference
	}
};
