import { redirect } from '@sveltejs/kit';
import { api, loaded } from '$lib/api/client';
import { waits } from '$lib/waits.svelte';
import type { PageLoad } from './$types';

/** How much of each the front page shows. */
const most = 4;

export const load: PageLoad = async ({ fetch, url, parent }) => {
	const words = (url.searchParams.get('words') ?? '').trim();
	if (words) {
		const found = await loaded(api.GET('/api/search', { fetch, params: { query: { words } } }));
		if (found.request) redirect(307, `/follow/${found.request}`);
		return { words, found };
	}
	const { session } = await parent();
	const at = (desk: string) => session.desks.some((d) => d.key === desk);
	const [offerings, mine, picks, have, parts, decisions, tasks] = await Promise.all([
		loaded(api.GET('/api/offerings', { fetch, params: { query: { limit: 100 } } })),
		loaded(api.GET('/api/requests', { fetch, params: { query: { limit: 30 } } })),
		loaded(api.GET('/api/picks', { fetch })),
		loaded(api.GET('/api/belongings', { fetch })),
		loaded(api.GET('/api/parts', { fetch })),
		at('decide')
			? loaded(api.GET('/api/decisions', { fetch, params: { query: { state: 'waiting', limit: most } } }))
			: undefined,
		at('deliver')
			? loaded(api.GET('/api/tasks', { fetch, params: { query: { who: 'mine', limit: most } } }))
			: undefined
	]);
	const counted = (desk: 'decide' | 'ask') =>
		waits.now?.[desk] ?? session.desks.find((d) => d.key === desk)?.waiting ?? 0;
	return {
		words,
		front: {
			offerings,
			picks: picks.entries,
			yours: mine.entries.filter((r) => r.yours),
			underway: mine.entries.filter((r) => !r.yours && r.status !== 'closed').slice(0, most),
			have: have.entries.slice(0, most),
			parts: parts.entries,
			decisions: decisions?.entries ?? [],
			tasks: tasks?.entries ?? [],
			toDecide: counted('decide'),
			onSlip: counted('ask')
		}
	};
};
