import { error, redirect } from '@sveltejs/kit';
import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

/** The operations of the program, typed by its own description. */
export const api = createClient<paths>({ baseUrl: '' });

export type Schema = components['schemas'];
export type Problem = Schema['Problem'];

/** What an operation answers, as openapi-fetch gives it. */
type Answer<T> = { data?: T; error?: unknown; response: Response };

/** What the page shows when no answer came at all. */
export const unreachable: Problem = {
	type: 'about:blank',
	title: 'No connection',
	status: 0,
	detail: 'Heptad does not answer. What you typed is kept on this page; try again in a moment.'
};

/** A refused or failed operation. */
export class Refused extends Error {
	constructor(readonly problem: Problem) {
		super(problem.detail);
	}

	/** Whether the program is away for a moment, so that the same may work soon. */
	get away() {
		return this.problem.status === 0 || this.problem.status >= 500;
	}
}

/** Waits for an answer and gives its body, or throws Refused. */
export async function unwrap<T>(answer: Promise<Answer<T>>): Promise<T> {
	let got: Answer<T>;
	try {
		got = await answer;
	} catch {
		throw new Refused(unreachable);
	}
	if (got.response.ok) return got.data as T;
	const problem = got.error as Problem | undefined;
	throw new Refused(problem?.detail ? problem : { ...unreachable, status: got.response.status });
}

/** The same inside a load function: an ended session leads to the door. */
export async function loaded<T>(answer: Promise<Answer<T>>): Promise<T> {
	try {
		return await unwrap(answer);
	} catch (refused) {
		if (!(refused instanceof Refused)) throw refused;
		if (refused.problem.status === 401) redirect(307, door());
		error(refused.problem.status || 503, refused.problem.detail);
	}
}

/** The address of the door, with the way back here. */
export function door(): string {
	const here = location.pathname + location.search;
	return here === '/' ? '/' : `/?back=${encodeURIComponent(here)}`;
}
