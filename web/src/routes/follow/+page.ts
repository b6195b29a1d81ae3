import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { first } = (await parent()).mine;
	return { first: first && `/follow/${first}${url.search}` };
};
