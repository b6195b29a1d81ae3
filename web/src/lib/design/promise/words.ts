import type { Schema } from '$lib/api/client';

type Question = Schema['FormQuestion'];

/** Questions whose answer is a date. */
export const datesOf = (questions: Question[]) =>
	questions.filter((q) => q.kind === 'date' || (q.kind === 'computed' && q.gives === 'date'));

/** By when something is ready, in words. */
export function readyWords(ready: Schema['PromiseReadyBy'], questions: Question[]) {
	const question = questions.find((q) => ready.of === `answers.${q.key}`);
	const days = ready.days ? `${ready.days} working ${ready.days === 1 ? 'day' : 'days'} before ` : 'by ';
	return `${days}“${question?.label ?? ready.of}”${ready.at ? `, ${ready.at}` : ''}`;
}

/** A length such as 5d, in words. */
export function inWords(length: string | undefined) {
	const [, number, unit] = /^(\d+)([dhm])$/.exec(length ?? '') ?? [];
	const words = { d: 'working day', h: 'working hour', m: 'working minute' }[unit ?? ''];
	return words ? `${number} ${words}${number === '1' ? '' : 's'}` : (length ?? '');
}
