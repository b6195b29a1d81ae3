import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { api, type Schema } from '$lib/api/client';
import type { Editor } from '../editor.svelte';
import type { Trial } from '../trial.svelte';
import { Rehearsal, type Line, type Script } from './rehearsal.svelte';

type Answer = { data?: unknown; error?: unknown; response: Response };
const good = (data: unknown): Answer => ({ data, response: new Response(null, { status: 200 }) });
const refused = (errors: object[]): Answer => ({
	error: { status: 422, detail: 'This cannot be rehearsed.', errors },
	response: new Response(null, { status: 422 })
});
const frame = (at: string, events = 1) => ({ at, events }) as Schema['RehearseFrame'];
const day = (n: number) => `2027-03-0${n}T09:00:00Z`;

let scripts: Script[];
let looked: string[];
let answers: (() => Promise<Answer>)[];
let saves: number;
beforeEach(() => {
	vi.useFakeTimers();
	sessionStorage.clear();
	[scripts, looked, answers, saves] = [[], [], [], 0];
	vi.spyOn(api, 'POST').mockImplementation(((
		path: string,
		{ body }: { body: { script: Script; at?: string } }
	) => {
		if (path.endsWith('/moment')) {
			looked.push(body.at!);
			return Promise.resolve(good({ at: body.at }));
		}
		scripts.push(body.script);
		return (
			answers.shift()?.() ??
			Promise.resolve(
				good({ result: { end: 'closed' }, frames: [frame(day(1)), frame(day(2)), frame(day(3))] })
			)
		);
	}) as never);
});
afterEach(() => vi.useRealTimers());

const editor = { document: { key: 'lamp' }, save: () => Promise.resolve(void saves++) } as unknown as Editor;
const trial = (more: object = {}) =>
	({
		as: '',
		whom: '',
		whomName: '',
		newcomer: '',
		day: '',
		answers: {},
		asker: 'sarmento',
		for: undefined,
		...more
	}) as unknown as Trial;
const line = (n: number, who: string, what: string, more: object = {}) =>
	({ at: day(n), who, do: what, ...more }) as Line;
const done = (r: Rehearsal) => r.lines.map((l) => `${l.at?.slice(8, 10)} ${l.who} ${l.do}`);

test('it is lived through as it is saved, and one looks at its end', async () => {
	const r = new Rehearsal(editor, trial({ day: '2027-03-08', answers: { port: 'orm' } }));
	await r.run('end');
	expect([saves, r.here, r.running]).toEqual([1, 2, false]);
	expect(scripts[0]).toEqual({
		format: 'heptad/rehearsal/1',
		asker: 'sarmento',
		send: '2027-03-08T12:00:00Z',
		answers: { port: 'orm' },
		cast: {},
		script: []
	});
	await vi.advanceTimersByTimeAsync(20);
	expect([looked, r.moment]).toEqual([[day(3)], { at: day(3) }]);
});

test('without a day it is sent now, to the minute, and stays so', async () => {
	vi.setSystemTime('2027-03-08T10:20:31Z');
	const r = new Rehearsal(editor, trial());
	await r.run();
	vi.setSystemTime('2027-03-08T11:00:00Z');
	await r.run();
	expect(scripts.map((s) => s.send)).toEqual(['2027-03-08T10:20:00Z', '2027-03-08T10:20:00Z']);
});

test('nobody asks, and nothing is lived through', async () => {
	await new Rehearsal(editor, trial({ asker: '' })).run();
	expect([scripts, saves]).toEqual([[], 0]);
});

test('one stays at the instant one looks at, or the last before it', async () => {
	const r = new Rehearsal(editor, trial());
	await r.run('end');
	r.go(1);
	answers.push(() =>
		Promise.resolve(good({ result: {}, frames: [frame(day(1)), frame(day(3)), frame(day(4))] }))
	);
	await r.run();
	expect(r.here).toBe(0);
	r.go(99);
	expect(r.here).toBe(2);
	r.go(-1);
	expect(r.here).toBe(0);
});

test('while one drags, only the last instant is looked at', async () => {
	const r = new Rehearsal(editor, trial());
	await r.run('end');
	for (const n of [0, 1, 2, 1]) r.go(n);
	await vi.advanceTimersByTimeAsync(20);
	expect(looked).toEqual([day(2)]);
});

test('of two runs the later counts, whichever answers first', async () => {
	const r = new Rehearsal(editor, trial());
	let first!: (a: Answer) => void;
	answers.push(
		() => new Promise((resolve) => (first = resolve)),
		() => Promise.resolve(good({ result: { end: 'second' }, frames: [] }))
	);
	const one = r.run();
	await vi.advanceTimersByTimeAsync(0);
	await r.run();
	first(good({ result: { end: 'first' }, frames: [] }));
	await one;
	expect(r.result).toEqual({ end: 'second' });
});

test('what is wrong is told with its line', async () => {
	const r = new Rehearsal(editor, trial());
	answers.push(() =>
		Promise.resolve(refused([{ place: '/script/script/3', sentence: 'Nobody has the login "nemo".' }]))
	);
	await r.run();
	expect(r.trouble).toEqual({ text: 'Nobody has the login "nemo".', line: 3 });
	answers.push(() => Promise.resolve(refused([])));
	await r.run();
	expect(r.trouble).toEqual({ text: 'This cannot be rehearsed.' });
	await r.run();
	expect(r.trouble).toBeUndefined();
});

test('who acts takes the place of what they did from then on, and others stay', async () => {
	const r = new Rehearsal(editor, trial());
	await r.run('end');
	r.go(1);
	r.lines = [
		line(1, 'quist', 'approve', { rung: 'manager' }),
		line(3, 'quist', 'decline', { rung: 'manager' }),
		line(3, 'quist', 'comment', { rung: 'manager' }),
		line(3, 'marrec', 'take', { task: 'photo' })
	];
	r.act({ who: 'quist', do: 'askBack', rung: 'manager', text: 'Why?' } as Line);
	expect(done(r)).toEqual(['01 quist approve', '02 quist askBack', '03 quist comment', '03 marrec take']);
	r.drop(0);
	expect(done(r)).toEqual(['02 quist askBack', '03 quist comment', '03 marrec take']);
});

test('it begins with a case, and anew', async () => {
	const of = trial();
	const r = new Rehearsal(editor, of);
	r.lines = [line(1, 'quist', 'approve')];
	const s = {
		answers: { port: 'orm' },
		for: { name: 'Noor Halvorsen' },
		cast: { asker: 'silent' }
	} as unknown as Script;
	await r.from(s);
	expect([of.answers, of.newcomer, r.cast, r.lines, r.here]).toEqual([
		{ port: 'orm' },
		'Noor Halvorsen',
		{ asker: 'silent' },
		[],
		0
	]);
	r.absences = [{ person: 'quist' } as Schema['ScriptAbsence']];
	expect(r.script.company).toEqual({ absences: [{ person: 'quist' }] });
	r.clear();
	expect([r.cast, r.absences]).toEqual([{}, []]);
	expect(r.script.company).toBeUndefined();
});

test('a page that is loaded anew goes on, unless something is tried already', async () => {
	const r = new Rehearsal(editor, trial({ as: 'sarmento', answers: { port: 'orm' } }));
	r.lines = [line(1, 'quist', 'approve')];
	await r.run();
	const fresh = trial({ asker: '' });
	const again = new Rehearsal(editor, fresh);
	expect([done(again), fresh.as, fresh.answers]).toEqual([['01 quist approve'], 'sarmento', { port: 'orm' }]);
	const other = trial({ answers: { port: 'maravel' } });
	new Rehearsal(editor, other);
	expect([other.as, other.answers]).toEqual(['', { port: 'maravel' }]);
	sessionStorage.setItem('heptad.rehearsal.lamp', '{"send":');
	expect(new Rehearsal(editor, trial()).lines).toEqual([]);
});
