import { describe, expect, it } from 'vitest';
import { readDate, readTime, shortDate } from './words';

describe('a date as people type it', () => {
	it.each([
		['20 Mar 2027', '2027-03-20'],
		['20 march 2027', '2027-03-20'],
		['March 20, 2027', '2027-03-20'],
		['20.3.2027', '2027-03-20'],
		['20/03/27', '2027-03-20'],
		['2027-03-20', '2027-03-20'],
		[' 1 jan 2028 ', '2028-01-01'],
		['29 feb 2028', '2028-02-29']
	])('%s', (text, day) => expect(readDate(text)).toBe(day));
	it.each([
		'',
		'tomorrow',
		'20 Mar',
		'31 Feb 2027',
		'29 feb 2027',
		'20 ma 2027',
		'20 j 2027',
		'20 juggle 2027',
		'0.1.2027',
		'1.13.2027',
		'20 Mar 20277',
		'2027-3',
		'x.y.z'
	])('%s is none', (text) => expect(readDate(text)).toBeUndefined());
	it('is read as it is shown', () => {
		for (let day = Date.UTC(2027, 0, 1); day < Date.UTC(2029, 0, 1); day += 86_400_000) {
			const text = new Date(day).toISOString().slice(0, 10);
			expect(readDate(shortDate(text))).toBe(text);
		}
	});
});

describe('a time of day as people type it', () => {
	it.each([
		['8:30', '08:30'],
		['08.30', '08:30'],
		['0830', '08:30'],
		['830', '08:30'],
		['17', '17:00'],
		['23:59', '23:59'],
		['0:00', '00:00']
	])('%s', (text, time) => expect(readTime(text)).toBe(time));
	it.each(['', 'noon', '24:00', '8:60', '8:3', '12:345', '-1:00'])('%s is none', (text) =>
		expect(readTime(text)).toBeUndefined()
	);
});
