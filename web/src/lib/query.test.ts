import { beforeEach, expect, test, vi } from 'vitest';
import { goto } from '$app/navigation';
import { ask, asked, parts, search, sorted } from './query';

vi.mock('$app/navigation', () => ({ goto: vi.fn() }));
beforeEach(() => vi.mocked(goto).mockClear());
const params = (text: string) => new URLSearchParams(text);

test.each([
	['words=heron&sort=due', { words: 'heron', sort: 'due' }],
	['words=&sort=due', { sort: 'due' }],
	['other=1', {}],
	['words=a%20b&words=c', { words: 'a b' }]
])('of %s the named parts are read', (text, want) => {
	expect(parts(params(text), ['words', 'sort'])).toEqual(want);
});

test.each([
	['', { words: '', sort: 'waiting' }],
	['sort=cost&words=badge', { words: 'badge', sort: 'cost' }],
	['sort=nonsense', { words: '', sort: 'waiting' }]
])('a list of decisions is ordered by %s', (text, want) => {
	expect(sorted(params(text))).toEqual(want);
});

test.each([
	[{}, ''],
	[{ words: '', late: false, team: undefined }, ''],
	[{ words: 'a & b', late: true }, '?words=a+%26+b&late=true']
])('what is wanted stands behind a path', (query, want) => expect(search(query)).toBe(want));

test('what is left out of a change stays, and what is empty goes', () => {
	const url = new URL('https://heptad.example/manage/company/people?words=ann&page=3');
	expect(asked(url, { page: '', sort: 'name' })).toBe('/manage/company/people?words=ann&sort=name');
	void ask(url, { words: 'ina' }, true);
	expect(goto).toHaveBeenCalledWith('/manage/company/people?words=ina&page=3', {
		keepFocus: true,
		noScroll: true,
		replaceState: true
	});
});
