import { api, loaded } from '$lib/api/client';
import type { Schema } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const q = url.searchParams;
	const asked = {
		person: q.get('person') ?? '',
		act: q.get('act') ?? '',
		thing: q.get('thing') ?? '',
		from: q.get('from') ?? '',
		until: q.get('until') ?? ''
	};
	const query = {
		...asked,
		act: (asked.act || undefined) as Schema['ActWords']['act'] | undefined,
		before: Number(q.get('before') ?? 0) || 0
	};
	return {
		asked,
		who: q.get('who') ?? '',
		what: q.get('what') ?? '',
		acts: await loaded(api.GET('/api/audit', { fetch, params: { query } }))
	};
};
