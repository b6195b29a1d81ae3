import { api, door, Refused, unwrap, type Problem } from '$lib/api/client';
import { read } from '$lib/measure/sentence';
import { error, redirect } from '@sveltejs/kit';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url, parent }) => {
	const { desk } = await parent();
	const body = read(url.searchParams, desk.usual);
	try {
		const [screen, records] = await Promise.all([
			unwrap(api.POST('/api/measure/screen', { fetch, body })),
			unwrap(api.POST('/api/measure/records', { fetch, params: { query: { after: '' } }, body }))
		]);
		return { shown: { screen, records }, trouble: undefined as Problem | undefined };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		if (refused.problem.status === 401) redirect(307, door());
		if (refused.problem.code !== 'preparing' && refused.problem.status !== 422)
			error(refused.problem.status || 503, refused.problem.detail);
		return { shown: undefined, trouble: refused.problem };
	}
};
