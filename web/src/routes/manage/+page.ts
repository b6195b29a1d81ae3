import { redirect } from '@sveltejs/kit';
import type { PageLoad } from './$types';

export const load: PageLoad = async ({ parent, url }) => {
	const { session } = await parent();
	if (!session.roles.includes('administrator')) redirect(307, '/manage/audit');
	redirect(307, session.moving ? '/manage/move-in' : `/manage/systems${url.search}`);
};
