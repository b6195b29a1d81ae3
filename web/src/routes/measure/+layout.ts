import { api, loaded } from '$lib/api/client';
import type { LayoutLoad } from './$types';

export const load: LayoutLoad = async ({ fetch }) => ({
	desk: await loaded(api.GET('/api/measure', { fetch }))
});
