import { describe, expect, it } from 'vitest';
import { gapsOf } from './rows';

describe('room for lines that are not there', () => {
	const line = (start: number, end: number) => ({ start, end });
	it.each([
		['nothing is known yet', [], 0, 0, { first: 0, before: [], last: 0 }],
		['no line is in sight', [], 500, 120, { first: 0, before: [], last: 500 }],
		['all are there', [line(120, 170), line(170, 220)], 100, 120, { first: 0, before: [0, 0], last: 0 }],
		[
			'some in the middle',
			[line(320, 370), line(370, 420)],
			1000,
			120,
			{ first: 200, before: [0, 0], last: 700 }
		],
		[
			'the one with the focus far before',
			[line(120, 170), line(620, 670)],
			1000,
			120,
			{ first: 0, before: [0, 450], last: 450 }
		]
	])('%s', (_, lines, total, margin, gaps) => expect(gapsOf(lines, total, margin)).toEqual(gaps));
	it('adds up to the whole height', () => {
		const lines = [line(130, 180), line(400, 460), line(460, 530)];
		const { first, before, last } = gapsOf(lines, 2000, 100);
		const there = lines.reduce((sum, l) => sum + l.end - l.start, 0);
		expect(first + before.reduce((a, b) => a + b, 0) + last + there).toBe(2000);
	});
});
