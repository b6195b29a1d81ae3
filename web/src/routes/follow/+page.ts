import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { mine } = await parent();
	const sent = mine.entries.filter((r) => r.status !== 'draft');
	const first = sent.find((r) => r.yours) ?? sent.find((r) => r.status !== 'closed') ?? sent[0];
	return { first: first && `/follow/${first.id}${url.search}` };
};
