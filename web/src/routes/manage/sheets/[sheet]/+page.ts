import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

type State = 'wrong' | 'waits' | 'new' | 'changed' | 'same' | 'left';

export const load: PageLoad = async ({ fetch, params, url }) => {
	const state = (url.searchParams.get('state') ?? undefined) as State | undefined;
	const after = Number(url.searchParams.get('after') ?? 0) || 0;
	return {
		state,
		sheet: await loaded(
			api.GET('/api/sheets/{sheet}', { fetch, params: { path: params, query: { state, after } } })
		)
	};
};
