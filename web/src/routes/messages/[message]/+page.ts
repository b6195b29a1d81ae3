import { redirect } from '@sveltejs/kit';
import { api, unwrap, loaded } from '$lib/api/client';
import type { PageLoad } from './$types';

/** A message leads to what it is about, and is read with that. */
export const load: PageLoad = async ({ fetch, params }) => {
	const message = await loaded(api.GET('/api/messages/{message}', { fetch, params: { path: params } }));
	await unwrap(api.POST('/api/messages/read', { fetch, body: { message: message.id } }));
	if (!message.request) redirect(307, message.kind === 'absent' ? '/decide/absence' : '/follow/have');
	if (message.rung) redirect(307, `/decide/${message.request}/${message.rung}`);
	if (message.task) redirect(307, `/deliver/${message.request}/${message.task}`);
	redirect(307, `/follow/${message.request}`);
};
