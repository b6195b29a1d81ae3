import type { Schema } from '$lib/api/client';
import { list } from '$lib/words';

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

/** Whom a mark can tell. */
export const toldNames: Record<NonNullable<Schema['PromiseMark']['tell']>[number], string> = {
	holder: 'who has it',
	team: 'all of their team',
	lead: 'the lead of the team',
	upward: 'the next team upward',
	owner: 'the owner of the service',
	keeper: 'who answers for the promise',
	asker: 'who asks'
};

/** What happens at a mark, in a line. */
export function markWords(mark: Schema['PromiseMark'], person: (login: string) => string) {
	const told = [...(mark.tell ?? []).map((who) => toldNames[who]), ...(mark.people ?? []).map(person)];
	const says = told.length ? `tells ${list.format(told)}` : 'tells nobody';
	const of = mark.clock === 'response' ? 'of the time of the first word ' : '';
	return `${of}${says}${mark.handUp ? ', and hands up what nobody has taken' : ''}`;
}
