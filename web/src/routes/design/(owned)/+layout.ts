import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => ({
	portfolio: await loaded(api.GET('/api/design', { fetch }))
});
