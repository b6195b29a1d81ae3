import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const person = url.searchParams.get('person') ?? '';
	return { absences: await loaded(api.GET('/api/absences', { fetch, params: { query: { person } } })) };
};
