import { expect, test } from 'vitest';
import { tabled, type Column } from './table';

type Berth = { name: string; length: number };
const berths: Berth[] = [
	{ name: 'berth 10', length: 90 },
	{ name: 'Berth 2', length: 120 },
	{ name: 'berth 1', length: 90 },
	{ name: 'Ängsö', length: 30 }
];
const columns: Column<Berth>[] = [
	{ key: 'name', name: 'Name', by: (b) => b.name },
	{ key: 'length', name: 'Length', by: (b) => b.length },
	{ key: 'deeds', name: 'Deeds' }
];
const compare = new Intl.Collator('en', { numeric: true, sensitivity: 'base' }).compare;
const names = (by: { key: string; down: boolean } | undefined, at = 1, size = 10) => {
	const view = tabled(berths, columns, { by, at, size, compare });
	return [view.rows.map((b) => b.name).join(', '), view.at, view.pages];
};

test.each([
	['as they came', undefined, 'berth 10, Berth 2, berth 1, Ängsö'],
	['words, with numbers as numbers', { key: 'name', down: false }, 'Ängsö, berth 1, Berth 2, berth 10'],
	['words down', { key: 'name', down: true }, 'berth 10, Berth 2, berth 1, Ängsö'],
	['numbers, alike ones as they came', { key: 'length', down: false }, 'Ängsö, berth 10, berth 1, Berth 2'],
	[
		'numbers down, alike ones as they came',
		{ key: 'length', down: true },
		'Berth 2, berth 10, berth 1, Ängsö'
	],
	['a heading that orders nothing', { key: 'deeds', down: true }, 'berth 10, Berth 2, berth 1, Ängsö']
])('%s', (_, by, want) => expect(names(by)).toEqual([want, 1, 1]));

test('a page at a time, the whole in order first', () => {
	expect(names({ key: 'name', down: false }, 1, 3)).toEqual(['Ängsö, berth 1, Berth 2', 1, 2]);
	expect(names({ key: 'name', down: false }, 2, 3)).toEqual(['berth 10', 2, 2]);
});

test('a page that is no longer there is the last', () => {
	expect(names(undefined, 7, 3)).toEqual(['Ängsö', 2, 2]);
});

test('nothing has one page', () => {
	expect(tabled([], columns, { by: undefined, at: 3, size: 5, compare })).toEqual({
		rows: [],
		at: 1,
		pages: 1
	});
});
