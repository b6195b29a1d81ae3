import { expect, test } from 'vitest';
import {
	brief,
	change,
	count,
	fully,
	money,
	number,
	shortly,
	tick,
	told,
	type Figure,
	type Value
} from './words';

const figure = (unit: Figure['unit'], good: Figure['good'] = 'high') => ({ unit, good }) as Figure;
const v = (n: number | undefined, few = false) => ({ number: n, few }) as Value;
/** Blanks that break no line read like others, and a thousand is k to some and K to others. */
const plain = (text: string) => text.replace(/[\u00a0\u202f]/g, ' ').replace(/K$/, 'k');

test.each<[number, Figure['unit'], string, string]>([
	[0.9234, 'share', '92.3%', '92.3%'],
	[1, 'share', '100%', '100%'],
	[5400, 'open', '90 min', '90 min'],
	[7199, 'open', '120 min', '120 min'],
	[7200, 'open', '2 h', '2 h'],
	[99_000, 'open', '27.5 h', '27.5 h'],
	[360_000, 'open', '100 h', '100 h'],
	[365_400, 'open', '102 h', '102 h'],
	[60, 'clock', '1 min', '1 min'],
	[90_000, 'clock', '25 h', '25 h'],
	[172_800, 'clock', '2 days', '2 days'],
	[216_000, 'clock', '2.5 days', '2.5 days'],
	[4.25, 'stars', '4.3', '4.3'],
	[12_345, 'count', '12,345', '12.3k'],
	[1_250_000, 'money', 'EUR 12,500', 'EUR 12.5k']
])('%d as %s', (n, unit, words, little) => {
	expect(plain(number(n, unit, 'EUR'))).toBe(words);
	expect(plain(tick(n, unit, 'EUR'))).toBe(little);
});

test.each([
	[5000, 'JPY', 'JPY 5,000'],
	[5000, 'EUR', 'EUR 50'],
	[5000, 'TND', 'TND 5'],
	[5000, '', 'XXX 50']
])('%d of the smallest coin of %s', (minor, currency, want) =>
	expect(plain(money(minor, currency))).toBe(want)
);

test('nothing is none, and too few are not told', () => {
	expect([
		told(v(undefined), figure('share'), ''),
		told(v(0), figure('share'), ''),
		told(v(0.5, true), figure('share'), '')
	]).toEqual(['none', '0%', 'too few to show']);
	expect([
		brief(v(undefined), figure('share'), ''),
		brief(v(0.926), figure('share'), ''),
		brief(v(3, true), figure('count'), ''),
		plain(brief(v(1200), figure('count'), ''))
	]).toEqual(['·', '93%', '…', '1.2k']);
	expect(count(1234.4)).toBe('1,234');
});

test.each<[number | undefined, number | undefined, Figure['unit'], Figure['good'], object | undefined]>([
	[0.95, 0.9, 'share', 'high', { words: 'up 5 points', sign: '↑', good: true }],
	[0.9, 0.95, 'share', 'high', { words: 'down 5 points', sign: '↓', good: false }],
	[0.9, 0.95, 'share', 'low', { words: 'down 5 points', sign: '↓', good: true }],
	[0.9001, 0.9, 'share', 'high', { words: 'as before', sign: '=', good: undefined }],
	[3600, 7200, 'open', 'low', { words: 'down 60 min', sign: '↓', good: true }],
	[12, 10, 'count', 'neither', { words: 'up 2', sign: '↑', good: undefined }],
	[12, 12, 'count', 'high', { words: 'as before', sign: '=', good: undefined }],
	[undefined, 12, 'count', 'high', undefined],
	[12, undefined, 'count', 'high', undefined]
])('%d after %d of %s', (now, before, unit, good, want) => {
	expect(change(v(now), v(before), figure(unit, good), 'EUR')).toEqual(want);
});

test('what too few say is compared with nothing', () => {
	expect(change(v(5, true), v(4), figure('count'), '')).toBeUndefined();
	expect(change(v(5), v(4, true), figure('count'), '')).toBeUndefined();
});

test.each([
	['month', '2027-01', 'Jan 27', 'January 2027'],
	['month', '2027-03', 'Mar', 'March 2027'],
	['week', '2027-W05', 'wk 5', 'week 5 of 2027'],
	['day', '2027-03-09', '9 Mar', '9 March 2027'],
	['weekday', '1', 'Mon', 'Monday'],
	['weekday', '7', 'Sun', 'Sunday'],
	['hour', '08', '08:00', 'from 08:00'],
	['team', 'keys-badges', 'Keys & Badges', 'Keys & Badges']
])('of %s %s', (side, key, little, full) => {
	expect([shortly(side, key, 'Keys & Badges'), fully(side, key, 'Keys & Badges')]).toEqual([little, full]);
});
