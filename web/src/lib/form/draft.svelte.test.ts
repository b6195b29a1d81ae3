import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { api, type Schema } from '$lib/api/client';
import { Draft } from './draft.svelte';

vi.mock('$app/navigation', () => ({ goto: vi.fn() }));

const form = (more: object = {}) =>
	({ offering: 'lamp', answers: {}, for: {}, version: 1, ...more }) as unknown as Schema['OpenedForm'];
const place = 'heptad-draft:p:lamp';
const good = (data: object) => ({ data, response: new Response(null, { status: 200 }) });

let sent: Record<string, unknown>[];
let answers: (() => Promise<unknown>)[];
beforeEach(() => {
	vi.useFakeTimers();
	localStorage.clear();
	sent = [];
	answers = [];
	vi.spyOn(api, 'PUT').mockImplementation(((
		_: string,
		init: { body: { answers: Record<string, unknown> } }
	) => {
		sent.push(init.body.answers);
		return answers.shift()?.() ?? Promise.resolve(good({ version: 1, draft: 'd1' }));
	}) as never);
});
afterEach(() => vi.useRealTimers());

test('nothing is sent before something is typed; then once, after a rest', async () => {
	const draft = new Draft(form(), 'p');
	await vi.advanceTimersByTimeAsync(5000);
	expect(sent).toEqual([]);
	for (const text of ['a', 'al', 'all']) draft.answer('why', text, true);
	expect(localStorage.getItem(place)).toContain('all');
	await vi.advanceTimersByTimeAsync(400);
	expect(sent).toEqual([{ why: 'all' }]);
	expect(draft.pending).toBe(false);
	expect(localStorage.getItem(place)).toBeNull();
});

test('an answer that overtakes a save is sent after it, and kept until then', async () => {
	const draft = new Draft(form(), 'p');
	let arrive!: (answer: unknown) => void;
	answers.push(() => new Promise((resolve) => (arrive = resolve)));
	draft.answer('port', 'orm');
	await vi.advanceTimersByTimeAsync(10);
	draft.answer('port', 'maravel');
	await vi.advanceTimersByTimeAsync(10);
	expect(sent).toEqual([{ port: 'orm' }]);
	arrive(good({ version: 1, draft: 'd1' }));
	await vi.advanceTimersByTimeAsync(0);
	expect(sent.at(-1)).toEqual({ port: 'maravel' });
	await vi.advanceTimersByTimeAsync(10);
	expect(draft.answers).toEqual({ port: 'maravel' });
	expect(localStorage.getItem(place)).toBeNull();
});

test('while the program is away what is typed stays in the browser, and is sent when it is back', async () => {
	answers.push(() => Promise.reject(new TypeError('away')));
	const draft = new Draft(form(), 'p');
	draft.answer('why', 'night');
	await vi.advanceTimersByTimeAsync(10);
	expect(draft.problem?.status).toBe(0);
	expect(new Draft(form(), 'p').answers).toEqual({ why: 'night' }); // another tab, or after a reload
	await vi.advanceTimersByTimeAsync(2500);
	expect(draft.problem).toBeUndefined();
	expect(sent.at(-1)).toEqual({ why: 'night' });
});

test('another version of the offering asks to read the questions anew', async () => {
	answers.push(() => Promise.resolve(good({ version: 2, draft: 'd1' })));
	const draft = new Draft(form(), 'p');
	draft.answer('why', 'night');
	await vi.advanceTimersByTimeAsync(10);
	expect(draft.outdated).toBe(true);
});

test('what is discarded is sent no more', async () => {
	const draft = new Draft(form(), 'p');
	draft.answer('why', 'night', true);
	draft.forget();
	await vi.advanceTimersByTimeAsync(5000);
	expect(sent).toEqual([]);
	expect(localStorage.getItem(place)).toBeNull();
});

test('what another has kept, or nonsense, is not taken', () => {
	localStorage.setItem('heptad-draft:other:lamp', JSON.stringify({ answers: { why: 'theirs' } }));
	localStorage.setItem(place, '{');
	expect(new Draft(form({ answers: { why: 'mine' } }), 'p').answers).toEqual({ why: 'mine' });
});
