import { api, Refused, unwrap, door, loaded, type Schema } from '$lib/api/client';
import { parts } from '$lib/query';
import { error, redirect } from '@sveltejs/kit';
import type { PageLoad } from './$types';

export type Query = {
	words?: string;
	service?: string;
	standing?: Schema['StandingCount']['standing'];
	late?: string;
	stuck?: string;
};

export const load: PageLoad = async ({ fetch, url }) => {
	const query = parts<Query>(url.searchParams, ['words', 'service', 'standing', 'late', 'stuck']);
	const nothing = {
		query,
		found: { entries: [] as Schema['FoundLine'][], next: undefined as string | undefined },
		overview: [] as Schema['UnderWayView'][],
		problem: undefined
	};
	if (Object.keys(query).length === 0)
		return { ...nothing, overview: (await loaded(api.GET('/api/overview', { fetch }))).entries };
	const { late, stuck, ...rest } = query;
	try {
		const found = await unwrap(
			api.GET('/api/find', {
				fetch,
				params: { query: { ...rest, late: Boolean(late), stuck: Boolean(stuck) } }
			})
		);
		const only = found.entries.length === 1 ? found.entries[0] : undefined;
		if (only && only.reference === query.words?.trim().toUpperCase()) redirect(307, `/follow/${only.id}`);
		return { ...nothing, found: { entries: found.entries, next: found.next } };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		if (refused.problem.status === 401) redirect(307, door());
		if (refused.problem.status !== 422) error(refused.problem.status || 503, refused.problem.detail);
		return { ...nothing, problem: refused.problem }; // a mistyped reference
	}
};
