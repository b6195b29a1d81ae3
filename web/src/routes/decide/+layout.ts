import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

const sorts = ['waiting', 'due', 'cost'] as const;

export const load: LayoutLoad = async ({ fetch, url }) => {
	const words = url.searchParams.get('words') ?? '';
	const sort = sorts.find((s) => s === url.searchParams.get('sort')) ?? 'waiting';
	const several = url.pathname.endsWith('/several');
	const of = (state: 'waiting' | 'decided') => ({
		state,
		limit: 50,
		words,
		sort,
		answers: several && state === 'waiting'
	});
	const [waiting, decided] = await Promise.all([
		loaded(api.GET('/api/decisions', { fetch, params: { query: of('waiting') } })),
		loaded(api.GET('/api/decisions', { fetch, params: { query: of('decided') } }))
	]);
	return { waiting, decided, words, sort };
};
