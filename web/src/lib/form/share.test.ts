import { expect, test } from 'vitest';
import { share } from './share';

const form = () => ({
	version: 1,
	questions: [
		{ key: 'port', shown: true, choices: ['a', 'b'] },
		{ key: 'reason', shown: false, problems: [{ sentence: 'Say why.' }] }
	]
});

test('what says the same is the same', () => {
	const before = form();
	expect(share(before, form())).toBe(before);
	const changed = form();
	changed.questions[1]!.shown = true;
	const now = share(before, changed);
	expect(now).toEqual(changed);
	expect(now.questions[0]).toBe(before.questions[0]);
	expect(now.questions[1]).not.toBe(before.questions[1]);
	expect(now.questions[1]!.problems).toBe(before.questions[1]!.problems);
});

test.each<[unknown, unknown]>([
	[{ a: 1 }, { a: 1, b: undefined }],
	[{ a: undefined }, { b: undefined }],
	[[1, 2], [1]],
	[[], {}],
	[null, {}],
	[{ a: null }, { a: {} }],
	[{ 0: 1 }, [1]],
	[1, 2]
])('%j becomes %j', (before, now) => {
	expect(share(before, now)).toEqual(now);
	expect(share(before, now)).not.toBe(before);
	expect(Object.keys(share(before, now) as object)).toEqual(Object.keys(now as object));
});
