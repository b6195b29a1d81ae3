import { describe, expect, it } from 'vitest';
import { address, into, narrowed, read, type Sentence } from './sentence';

const usual: Sentence = {
	figure: 'kept',
	period: 'last12',
	along: 'month',
	side: 'service',
	second: 'month',
	only: []
};

describe('a sentence and its address', () => {
	it.each<[string, Sentence]>([
		['/measure', usual],
		['/measure?figure=open', { ...usual, figure: 'open' }],
		[
			'/measure?period=2026-10&only=service%3Ait&only=service%3Ahr&only=speed%3AAt+once%3A+now',
			{
				...usual,
				period: '2026-10',
				only: [
					{ side: 'service', keys: ['it', 'hr'] },
					{ side: 'speed', keys: ['At once: now'] }
				]
			}
		],
		['/measure?only=location%3A', { ...usual, only: [{ side: 'location', keys: [''] }] }]
	])('%s', (text, sentence) => {
		expect(address(sentence, usual)).toBe(text);
		expect(read(new URL(text, 'http://x').searchParams, usual)).toEqual(sentence);
	});
	it('leaves out what names no side', () => {
		expect(read(new URLSearchParams('only=strange'), usual)).toEqual(usual);
	});
	it('narrows and widens', () => {
		const it = narrowed(usual, 'service', ['it']);
		expect(narrowed(it, 'service', ['hr']).only).toEqual([{ side: 'service', keys: ['hr'] }]);
		expect(narrowed(it, 'service', []).only).toEqual([]);
	});
	it('goes into a month by its weeks', () => {
		expect(into(usual, 'month', '2026-10')).toEqual({
			...usual,
			period: '2026-10',
			along: 'week',
			second: 'week'
		});
		expect(into(usual, 'service', 'it').side).toBe('offering');
		expect(into(usual, 'team', 'keys').side).toBe('service');
		expect(into(usual, 'team', 'keys').only).toEqual([{ side: 'team', keys: ['keys'] }]);
	});
});
