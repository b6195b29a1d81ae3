import { expect, test } from 'vitest';
import type { Schema } from '$lib/api/client';
import { datesOf, inWords, markWords, readyWords } from './words';

type Question = Schema['FormQuestion'];
const questions = [
	{ key: 'from', kind: 'date', label: 'From which day?' },
	{ key: 'why', kind: 'text', label: 'Why?' },
	{ key: 'last', kind: 'computed', gives: 'date', label: 'Last day' },
	{ key: 'sum', kind: 'computed', gives: 'number', label: 'Sum' }
] as Question[];

test('dates are answered, or computed', () => {
	expect(datesOf(questions).map((q) => q.key)).toEqual(['from', 'last']);
});

test.each([
	['5d', '5 working days'],
	['1d', '1 working day'],
	['8h', '8 working hours'],
	['30m', '30 working minutes'],
	['soon', 'soon'],
	['', ''],
	[undefined, '']
])('%s is %s', (length, words) => expect(inWords(length)).toBe(words));

test.each<[Schema['PromiseReadyBy'], string]>([
	[{ of: 'answers.from' }, 'by “From which day?”'],
	[{ of: 'answers.from', days: 1 }, '1 working day before “From which day?”'],
	[{ of: 'answers.from', days: 3, at: '12:00' }, '3 working days before “From which day?”, 12:00'],
	[{ of: 'answers.gone' }, 'by “answers.gone”']
])('%j reads as %s', (ready, words) => expect(readyWords(ready, questions)).toBe(words));

const person = (login: string) => ({ quist: 'Ragnhild Quist' })[login] ?? login;
test.each<[Partial<Schema['PromiseMark']>, string]>([
	[{}, 'tells nobody'],
	[{ tell: ['lead'] }, 'tells the lead of the team'],
	[
		{ tell: ['holder', 'owner'], people: ['quist'] },
		'tells who has it, the owner of the service and Ragnhild Quist'
	],
	[{ tell: ['upward'], handUp: true }, 'tells the next team upward, and hands up what nobody has taken'],
	[{ clock: 'response', tell: ['asker'] }, 'of the time of the first word tells who asks']
])('a mark %j %s', (mark, words) => expect(markWords(mark as Schema['PromiseMark'], person)).toBe(words));
