import { redirect } from '@sveltejs/kit';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { waiting } = await parent();
	const first = waiting.entries[0];
	if (first) redirect(307, `/decide/${first.request}/${first.rung}${url.search}`);
};
