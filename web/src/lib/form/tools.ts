import { locale } from '$lib/words';
import { getContext, setContext } from 'svelte';
import type { Problem, Schema } from '$lib/api/client';

export type Question = Schema['FormQuestion'];
export type Field = Schema['FormFieldResult'];
export type PickedItem = {
	item: string;
	quantity: number;
	options?: Record<string, string>;
	extras?: { extra: string; quantity: number }[];
};
export type Upload = Schema['FormUpload'];
export type Person = Schema['PersonView'];

/** The parts of a form that its controls need. */
export type Head = Pick<
	Schema['OpenedForm'],
	'items' | 'extras' | 'currency' | 'teams' | 'places' | 'belongings' | 'persons'
> &
	Partial<Pick<Schema['OpenedForm'], 'fileKinds'>>;

/** What a form can ask of the program while it is filled in. */
export type Tools = {
	/** Finds people one may choose, by the path of the question; empty for whom a request is. */
	lookUp: (question: string, words: string) => Promise<Person[]>;
	/** Puts a file on the draft; tells its progress from 0 to 1. Rejects with a Problem. */
	upload: (question: string, file: File, progress: (share: number) => void) => Promise<Upload>;
};

const key = Symbol('form tools');
export const setTools = (tools: Tools) => setContext(key, tools);
/** Of the form around; none where one only looks at it, as the Design desk does. */
export const getTools = () => getContext<Tools | undefined>(key);

/**
 * Sends a file with its progress, which fetch cannot tell. To is the path of the
 * offering it is asked by, or of the request it belongs to.
 */
export function send(
	to: string,
	question: string,
	file: File,
	progress: (share: number) => void
): Promise<Upload> {
	return new Promise((resolve, reject: (problem: Problem) => void) => {
		const request = new XMLHttpRequest();
		const query = new URLSearchParams({ question, name: file.name });
		request.open('POST', `${to}/files?${query.toString()}`);
		request.setRequestHeader('Content-Type', 'application/octet-stream');
		request.responseType = 'json';
		request.upload.onprogress = (e) => e.lengthComputable && progress(e.loaded / e.total);
		const away: Problem = {
			type: 'about:blank',
			title: 'No connection',
			status: 0,
			detail: `${file.name} could not be sent. Try again in a moment.`
		};
		request.onerror = () => reject(away);
		request.onload = () => {
			if (request.status === 200) resolve(request.response as Upload);
			else reject((request.response as Problem | null) ?? away);
		};
		request.send(file);
	});
}

/** "1.2 MB" */
export function size(bytes: number): string {
	const unit = bytes < 1000 ? 'byte' : bytes < 1_000_000 ? 'kilobyte' : 'megabyte';
	const value = bytes < 1000 ? bytes : bytes < 1_000_000 ? bytes / 1000 : bytes / 1_000_000;
	return new Intl.NumberFormat(locale, {
		style: 'unit',
		unit,
		unitDisplay: 'short',
		maximumFractionDigits: 1
	}).format(value);
}
