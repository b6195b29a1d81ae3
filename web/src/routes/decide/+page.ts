import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { waiting } = await parent();
	const first = waiting.entries[0];
	return { first: first && `/decide/${first.request}/${first.rung}${url.search}` };
};
