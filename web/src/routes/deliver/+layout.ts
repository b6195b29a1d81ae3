import { api, loaded } from '$lib/api/client';
import { queryOf } from '$lib/deliver/query';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch, url }) => {
	const query = queryOf(url.searchParams);
	const [tasks, desk] = await Promise.all([
		loaded(api.GET('/api/tasks', { fetch, params: { query: { ...query, limit: 50 } } })),
		loaded(api.GET('/api/desk', { fetch }))
	]);
	const team = desk.teams.find((t) => t.key === query.team) ?? desk.teams.find((t) => t.lead);
	return {
		query,
		tasks,
		desk,
		team,
		load: team?.lead
			? await loaded(api.GET('/api/teams/{team}/load', { fetch, params: { path: { team: team.key } } }))
			: undefined
	};
};
