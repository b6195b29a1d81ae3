import { error, redirect } from '@sveltejs/kit';
import { api, unwrap, door, Refused } from '$lib/api/client';
import type { PageLoad } from './$types';
import { presets } from './presets';

export const load: PageLoad = async ({ fetch, params, url }) => {
	const again = url.searchParams.get('again') ?? '';
	const request = url.searchParams.get('request') ?? '';
	const words = url.searchParams.get('words') ?? '';
	const given = Object.fromEntries(
		[...url.searchParams].filter(([key]) => !['again', 'words', 'request', 'help'].includes(key))
	);
	const help = url.searchParams.get('help') ?? '';
	try {
		const open = (query: { request?: string; again?: string; given?: string }) =>
			unwrap(api.GET('/api/offerings/{offering}/form', { fetch, params: { path: params, query } }));
		let form = await open(request ? { request } : again ? { again } : {});
		const answers = presets(form, given, words);
		if (!form.draft && !again && Object.keys(answers).length)
			form = await open({ given: JSON.stringify(answers) });
		const faults = await unwrap(
			api.GET('/api/offerings/{offering}/faults', { fetch, params: { path: params } })
		);
		return { form, words, help, faults };
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		const { status, successor, detail } = refused.problem;
		if (status === 401) redirect(307, door());
		if (status === 410 && successor)
			error(410, {
				message: `${detail} Ask for “${successor.name}” instead.`,
				next: `/ask/${successor.key}`
			});
		error(status || 503, detail);
	}
};
