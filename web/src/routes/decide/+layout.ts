import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

/** What the index can be sorted by. */
export const _sorts = { waiting: 'longest waiting', due: 'first due', cost: 'dearest' } as const;

export const load: LayoutLoad = async ({ fetch, url }) => {
	const words = url.searchParams.get('words') ?? '';
	const asked = url.searchParams.get('sort') ?? '';
	const sort = asked in _sorts ? (asked as keyof typeof _sorts) : 'waiting';
	const of = (state: 'waiting' | 'decided') => ({ state, limit: 50, words, sort });
	const [waiting, decided] = await Promise.all([
		loaded(api.GET('/api/decisions', { fetch, params: { query: of('waiting') } })),
		loaded(api.GET('/api/decisions', { fetch, params: { query: of('decided') } }))
	]);
	return { waiting, decided, words, sort };
};
