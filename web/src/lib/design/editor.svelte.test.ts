import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { api, Refused, type Schema } from '$lib/api/client';
import { Editor } from './editor.svelte';

vi.mock('$app/navigation', () => ({ goto: vi.fn() }));

type Document = Schema['OfferingDocument'];
type Answer = { data?: unknown; error?: unknown; response: Response };

const named = (name: string) => ({ key: 'lamp', purpose: { name } }) as Document;
const opened = (document: Document, revision = 1) =>
	({ document, revision, sentences: {}, people: [], findings: [] }) as unknown as Schema['OpenedOffering'];
const good = (data: unknown): Answer => ({ data, response: new Response(null, { status: 200 }) });
const refused = (status: number, code: string): Answer => ({
	error: { status, code, detail: code },
	response: new Response(null, { status })
});

let sent: { name: string; revision: number }[];
let answers: (() => Promise<Answer>)[];
beforeEach(() => {
	vi.useFakeTimers();
	sent = [];
	answers = [];
	vi.spyOn(api, 'PUT').mockImplementation(((
		_path: string,
		init: { body: { document: Document; revision: number } }
	) => {
		const { document, revision } = init.body;
		sent.push({ name: document.purpose.name, revision });
		return answers.shift()?.() ?? Promise.resolve(good(opened(document, revision + 1)));
	}) as never);
});
afterEach(() => vi.useRealTimers());

const editor = () => new Editor(opened(named('Lamp')), {} as Schema['MaterialsBody']);
const rename = (e: Editor, name: string) => {
	e.document.purpose.name = name;
	e.soon();
};

test('what is typed without a rest is one step, and undo brings back what was', () => {
	const e = editor();
	rename(e, 'Desk');
	vi.advanceTimersByTime(200);
	rename(e, 'Desk lamp');
	vi.advanceTimersByTime(1000);
	rename(e, 'Floor lamp');
	e.undo();
	expect(e.document.purpose.name).toBe('Desk lamp');
	e.undo();
	expect(e.document.purpose.name).toBe('Lamp');
	expect(e.canUndo).toBe(false);
	e.redo();
	e.redo();
	expect(e.document.purpose.name).toBe('Floor lamp');
	expect(e.canRedo).toBe(false);
	e.undo();
	rename(e, 'Other lamp');
	expect(e.canRedo).toBe(false);
});

test('a change that comes while one is saved is saved after it, on its revision', async () => {
	const e = editor();
	let arrive!: (answer: Answer) => void;
	answers.push(() => new Promise((resolve) => (arrive = resolve)));
	rename(e, 'Desk lamp');
	await vi.advanceTimersByTimeAsync(500);
	expect(e.saving).toBe(true);
	rename(e, 'Floor lamp');
	await vi.advanceTimersByTimeAsync(500);
	expect(sent).toEqual([{ name: 'Desk lamp', revision: 1 }]);
	arrive(good(opened(named('Desk lamp'), 2)));
	await vi.advanceTimersByTimeAsync(500);
	expect(sent.at(-1)).toEqual({ name: 'Floor lamp', revision: 2 });
	expect(e.document.purpose.name).toBe('Floor lamp');
	expect(e.unsaved).toBe(false);
});

test('while the program is away it is tried again, and nothing is lost', async () => {
	const e = editor();
	answers.push(() => Promise.reject(new TypeError('away')));
	rename(e, 'Desk lamp');
	await vi.advanceTimersByTimeAsync(500);
	expect(e.problem?.status).toBe(0);
	expect(e.unsaved).toBe(true);
	await vi.advanceTimersByTimeAsync(2500);
	expect(sent).toHaveLength(2);
	expect(e.problem).toBeUndefined();
	expect(e.unsaved).toBe(false);
});

test('what two have saved is brought together, and can be undone', async () => {
	const e = editor();
	answers.push(() => Promise.resolve(refused(409, 'draftChanged')));
	const merge = vi
		.spyOn(api, 'POST')
		.mockResolvedValue(good({ document: named('Desk lamp, white'), revision: 7, clashes: [] }) as never);
	rename(e, 'Desk lamp');
	await vi.advanceTimersByTimeAsync(500);
	expect(merge).toHaveBeenCalledWith('/api/design/{offering}/merge', {
		params: { path: { offering: 'lamp' } },
		body: { base: named('Lamp'), mine: named('Desk lamp') }
	});
	rename(e, 'Desk lamp!');
	await vi.advanceTimersByTimeAsync(5000);
	expect(sent).toHaveLength(1); // nothing is saved over the other
	await e.bringTogether();
	expect(sent.at(-1)).toEqual({ name: 'Desk lamp, white', revision: 7 });
	e.undo();
	expect(e.document.purpose.name).toBe('Desk lamp!');
});

test('a rule that is being written is not saved yet', () => {
	const e = editor();
	e.forming++;
	expect([e.changed, e.unsaved]).toEqual([false, true]);
	e.forming--;
	expect(e.unsaved).toBe(false);
});

test('what is no refusal is no answer', async () => {
	const e = editor();
	answers.push(() => Promise.resolve(refused(422, 'invalid')));
	rename(e, '');
	await e.save();
	expect(e.problem?.code).toBe('invalid');
	expect(new Refused(e.problem!).away).toBe(false);
});
