import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { tasks } = await parent();
	const first = tasks.entries.find((t) => t.yours) ?? tasks.entries[0];
	return { first: first && `/deliver/${first.request}/${first.key}${url.search}` };
};
