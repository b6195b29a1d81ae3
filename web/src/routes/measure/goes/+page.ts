import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const choices = await loaded(api.GET('/api/measure/goes', { fetch }));
	const q = url.searchParams;
	const offering = q.get('offering') || choices.offerings[0]?.key || '';
	const part = (name: string, otherwise: string) => q.get(name) ?? otherwise;
	const chosen = {
		offering,
		version: part('version', '0'),
		period: part('period', 'last24'),
		beside: part('beside', ''),
		then: part('then', 'last24')
	};
	const goes = (version: string, period: string) =>
		loaded(
			api.GET('/api/measure/goes/{offering}', {
				fetch,
				params: { path: { offering }, query: { version: Number(version), period } }
			})
		);
	return {
		choices,
		chosen,
		first: offering ? await goes(chosen.version, chosen.period) : undefined,
		second: offering && chosen.beside !== '' ? await goes(chosen.beside, chosen.then) : undefined
	};
};
