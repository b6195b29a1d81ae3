import { error } from '@sveltejs/kit';
import { Refused } from './client';

/** What a link of a mail leads to; a page that says why, when it leads nowhere. */
export async function linked<T>(answer: Promise<T>): Promise<T> {
	try {
		return await answer;
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		const { status, detail } = refused.problem;
		error(
			status || 503,
			status === 404 ? 'This link is not right, or not whole. Open it from the mail again.' : detail
		);
	}
}
