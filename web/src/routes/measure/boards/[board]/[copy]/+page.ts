import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, params }) => {
	const path = { board: params.board, copy: params.copy };
	const [copy, copies] = await Promise.all([
		loaded(api.GET('/api/boards/{board}/copies/{copy}', { fetch, params: { path } })),
		loaded(api.GET('/api/boards/{board}/copies', { fetch, params: { path: { board: params.board } } }))
	]);
	return { copy, line: copies.entries.find((c) => c.id === params.copy) };
};
