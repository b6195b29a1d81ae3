import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params, url }) => {
	const path = { board: params.board };
	const page = url.searchParams.get('page');
	const [board, copies, records] = await Promise.all([
		loaded(api.GET('/api/boards/{board}', { fetch, params: { path } })),
		loaded(api.GET('/api/boards/{board}/copies', { fetch, params: { path } })),
		page === null
			? undefined
			: loaded(
					api.GET('/api/boards/{board}/records/{page}', {
						fetch,
						params: { path: { ...path, page: Number(page) }, query: { after: '' } }
					})
				)
	]);
	return { board, copies: copies.entries, records, page: page === null ? undefined : Number(page) };
};
