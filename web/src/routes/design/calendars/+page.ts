import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch, url }) => {
	const calendars = (await loaded(api.GET('/api/calendars', { fetch }))).entries;
	const calendar = url.searchParams.get('key') ?? calendars[0]?.key;
	return {
		calendars,
		opened: calendar
			? await loaded(api.GET('/api/calendars/{calendar}', { fetch, params: { path: { calendar } } }))
			: undefined
	};
};
