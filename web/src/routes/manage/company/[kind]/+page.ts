import { error } from '@sveltejs/kit';
import { api, loaded } from '$lib/api/client';
import { kinds, type Kind } from '$lib/manage/words';
import type { PageLoad } from './$types';

/** How many records stand on one page. */
export const _size = 50;

export const load: PageLoad = async ({ fetch, params, url }) => {
	const kind = params.kind as Kind;
	if (!(kind in kinds)) error(404, 'There is nothing here.');
	const q = url.searchParams;
	const page = Math.max(1, Number(q.get('page') ?? 1) || 1);
	const query = {
		words: q.get('words') ?? '',
		sort: q.get('sort') ?? '',
		down: q.get('down') === 'yes',
		skip: (page - 1) * _size,
		limit: _size
	};
	const one = q.get('one');
	return {
		kind,
		page,
		query,
		records: kinds[kind].only
			? { entries: [], total: 0, fields: [] }
			: await loaded(api.GET('/api/company/{kind}', { fetch, params: { path: { kind }, query } })),
		opened: one
			? await loaded(
					api.GET('/api/company/{kind}/one', { fetch, params: { path: { kind }, query: { id: one } } })
				)
			: undefined,
		care: kind === 'people' ? await loaded(api.GET('/api/care', { fetch })) : undefined
	};
};
