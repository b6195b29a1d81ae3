import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { first } = (await parent()).tasks;
	return { first: first && `/deliver/${first}${url.search}` };
};
