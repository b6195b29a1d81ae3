import { api, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ fetch }) => loaded(api.GET('/api/trial/mails', { fetch }));
