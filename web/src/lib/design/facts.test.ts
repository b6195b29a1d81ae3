import { expect, test } from 'vitest';
import type { Schema } from '$lib/api/client';
import { costCentres } from '$lib/names.svelte';
import { comparesFacts, factsAt, firstWay, sameSort, takes } from './facts';
import type { Rules } from './editor.svelte';

type Document = Schema['OfferingDocument'];
type Question = Schema['FormQuestion'];

const way = (compare: string, values: 'none' | 'one' | 'many', facts = false) => ({
	compare,
	words: compare,
	values,
	facts
});
const sort = (key: string, ...ways: ReturnType<typeof way>[]) => ({ key, as: 'text', ways });
const materials = {
	facts: {
		departments: ['Fleet', 'Premises'],
		places: ['Tower Quay'],
		employments: ['permanent'],
		grades: ['8']
	},
	teams: [{ key: 'keys-badges', name: 'Keys & Badges' }],
	sorts: [
		sort('choice', way('is', 'one', true), way('oneOf', 'many'), way('answered', 'none')),
		sort('text', way('is', 'one', true), way('contains', 'one')),
		sort('date', way('less', 'one', true)),
		sort('money', way('more', 'one')),
		sort('items', way('picks', 'many')),
		sort('other', way('answered', 'none'))
	],
	kinds: [
		'text:text',
		'choice:choice',
		'team:choice',
		'location:choice',
		'costCentre:choice',
		'date:date',
		'items:items',
		'file:other'
	].map((k) => {
		const [kind, of] = k.split(':');
		return { kind, sort: of };
	})
} as unknown as Rules['materials'];

const q = (key: string, kind: string, more: object = {}) =>
	({ key, kind, label: `The ${key}`, ...more }) as Question;
const document = (questions: Question[]) =>
	({
		questions,
		items: {
			currency: 'EUR',
			list: [
				{ key: 'card', name: 'Card' },
				{ key: 'fob', name: 'Fob' }
			]
		}
	}) as unknown as Document;
const questions = [
	q('port', 'choice', {
		choices: [
			{ key: 'orm', label: 'Sankt Orm', group: 'North' },
			{ key: 'maravel', label: 'Maravel' }
		]
	}),
	q('read', 'statement'),
	q('from', 'date', { show: 'answers.port == "orm"' }),
	q('why', 'text', { require: 'answers.from > today' }),
	q('shift', 'team'),
	q('berth', 'location'),
	q('payer', 'costCentre'),
	q('badge', 'items', { items: ['card'] }),
	q('scan', 'file'),
	q('sum', 'computed', { gives: 'date', label: '' }),
	q('crew', 'table', {
		columns: [
			q('who', 'text'),
			q('days', 'date', { show: 'row.who == "x"' }),
			q('more', 'text', { show: 'row.days > today' })
		]
	})
];
const at = (place: string) => factsAt(place, document(questions), materials);
const fact = (place: string, path: string) => at(place).find((f) => f.path === path);
const paths = (place: string, begins: string) =>
	at(place)
		.map((f) => f.path)
		.filter((p) => p.startsWith(begins));

test.each([
	[
		'port',
		'choice',
		[
			{ key: 'orm', label: 'Sankt Orm' },
			{ key: 'maravel', label: 'Maravel' }
		]
	],
	['shift', 'choice', [{ key: 'keys-badges', label: 'Keys & Badges' }]],
	['berth', 'choice', [{ key: 'Tower Quay', label: 'Tower Quay' }]],
	['badge', 'items', [{ key: 'card', label: 'Card' }]],
	['payer', 'choice', undefined],
	['why', 'text', undefined],
	['sum', 'date', undefined],
	['scan', 'other', undefined]
])('a condition on %s compares by %s what there is to choose', (path, of, choices) => {
	const f = fact('/ladder/0/when', path);
	expect([f?.sort.key, f?.choices]).toEqual([of, choices]);
});

test('cost centres are found by words, as there can be thousands', () => {
	expect(fact('/ladder/0/when', 'payer')?.found).toBe(costCentres);
	expect(fact('/audience/ask', 'asker.costCentre')?.found).toBe(costCentres);
	expect(fact('/audience/ask', 'asker.department')?.choices?.map((c) => c.key)).toEqual([
		'Fleet',
		'Premises'
	]);
});

test('what has no words goes by its key, and a statement is no fact', () => {
	expect(fact('/ladder/0/when', 'sum')?.label).toBe('sum');
	expect(fact('/ladder/0/when', 'read')).toBeUndefined();
});

test.each([
	['/audience/ask', ['asker.'], ['answers', 'cost.', 'beneficiary.']],
	['/audience/for', ['asker.', 'beneficiary.'], ['cost.']],
	['/items/list/0/when', ['asker.', 'beneficiary.', 'port'], ['cost.']],
	['/ladder/0/when', ['asker.', 'beneficiary.', 'cost.', 'port'], ['row.', 'choice.']],
	['/questions/0/offer', ['choice.', 'asker.'], ['row.']],
	['/questions/10/columns/1/show', ['row.', 'port', 'cost.'], ['choice.']]
])('at %s there is what is known there', (place, there, not) => {
	for (const begins of there) expect(paths(place, begins), begins).not.toEqual([]);
	for (const begins of not) expect(paths(place, begins), begins).toEqual([]);
});

test('a rule cannot hang on its own question, nor on what hangs on it', () => {
	expect(fact('/questions/0/show', 'port')?.barred).toBe('it is this question');
	expect(fact('/questions/0/show', 'from')?.barred).toBe('its own rules read “The port”');
	expect(fact('/questions/0/show', 'why')?.barred, 'through another').toBe('its own rules read “The port”');
	expect(fact('/questions/0/show', 'shift')?.barred).toBeUndefined();
	expect(fact('/questions/3/show', 'port')?.barred).toBeUndefined();
	expect(fact('/questions/2/check/0/rule', 'from')?.barred, 'a check is about the answer').toBeUndefined();
});

test('the same holds in a row', () => {
	const place = '/questions/10/columns/0/show';
	expect(fact(place, 'row.who')?.barred).toBe('it is this column');
	expect(fact(place, 'row.days')?.barred).toBe('its own rules read “The who”');
	expect(fact(place, 'row.more')?.barred).toBe('its own rules read “The who”');
	expect(fact('/questions/10/columns/2/show', 'row.days')?.barred).toBeUndefined();
	expect(fact(place, 'crew')?.barred).toBe('it is this question');
});

test('choices are offered by their groups, where they have any', () => {
	expect(fact('/questions/0/offer', 'choice.group')?.choices).toEqual([{ key: 'North', label: 'North' }]);
	expect(fact('/questions/0/offer', 'choice.name')?.choices).toBeUndefined();
});

test('how facts can be compared', () => {
	const port = fact('/ladder/0/when', 'port');
	const shift = fact('/ladder/0/when', 'shift')!;
	expect([firstWay(port), firstWay(undefined)]).toEqual(['is', 'answered']);
	expect(takes(materials.sorts, 'oneOf')).toBe('many');
	expect(takes(materials.sorts, 'some' as 'is')).toBe('none');
	expect(comparesFacts(port, 'is')).toBe(true);
	expect(comparesFacts(port, 'oneOf')).toBe(false);
	expect(comparesFacts(undefined, 'is')).toBe(false);
	expect(sameSort(port!, shift)).toBe(true);
	expect(sameSort(port!, port!)).toBe(false);
	expect(sameSort(port!, fact('/ladder/0/when', 'from')!)).toBe(false);
	expect(
		sameSort(fact('/ladder/0/when', 'cost.once')!, fact('/ladder/0/when', 'cost.monthly')!),
		'money with nothing'
	).toBe(false);
});
