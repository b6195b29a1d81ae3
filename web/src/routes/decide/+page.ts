import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { first } = (await parent()).waiting;
	return { first: first && `/decide/${first}${url.search}` };
};
