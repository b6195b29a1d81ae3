import { expect, test } from 'vitest';
import type { Schema } from '$lib/api/client';
import { inOneLine, pagesOf } from './pages';
import { size, type Question } from './tools';

const shown = (...sections: string[]) => sections.map((section) => ({ section })) as Question[];
const section = (key: string, page = false) => ({ key, name: `The ${key}`, page }) as Schema['FormSection'];

test.each([
	['no sections', [], shown(''), [['Begin', ['']]]],
	['nothing shown', [section('a', true)], [], []],
	[
		'sections on one page, named by the first',
		[section('a'), section('b')],
		shown('a', 'b'),
		[['The a', ['', 'a', 'b']]]
	],
	[
		'a page each',
		[section('a'), section('b', true), section('c')],
		shown('a', 'c'),
		[
			['The a', ['', 'a']],
			['The b', ['b', 'c']]
		]
	],
	[
		'a page on which nothing is shown',
		[section('a', true), section('b', true)],
		shown('', 'b'),
		[
			['Begin', ['']],
			['The b', ['b']]
		]
	],
	['a first page of which nothing is shown', [section('a', true)], shown('a'), [['The a', ['a']]]]
])('%s', (_, sections, questions, want) => {
	expect(pagesOf(sections, questions).map((p) => [p.name, p.keys])).toEqual(want);
});

const evaluation = (lines: number, decisions: number, fulfilment?: string) =>
	({
		price: { lines: Array(lines).fill({}), firstYear: { amount: '12.50', currency: 'EUR' } },
		decisions: Array(decisions).fill({}),
		promised: fulfilment === undefined ? undefined : { name: 'Usual', fulfilment }
	}) as unknown as Schema['Evaluation'];

test.each([
	[evaluation(0, 0), 'no decision needed'],
	[evaluation(0, 1, '5 working days'), 'one decision, done within 5 working days'],
	[evaluation(0, 2, ''), '2 decisions']
])('what a form comes to, in one line', (result, words) => expect(inOneLine(result)).toBe(words));

test('what costs says so first', () => {
	expect(inOneLine(evaluation(1, 0))).toBe('€12.50 in the first year, no decision needed');
});

test.each([
	[0, '0 byte'],
	[999, '999 byte'],
	[1000, '1 kB'],
	[1_234_000, '1.2 MB']
])('%d bytes are %s', (bytes, words) => expect(size(bytes)).toBe(words));
