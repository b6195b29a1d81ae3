import { expect, test, vi } from 'vitest';
import { goto, invalidateAll } from '$app/navigation';
import { Refused, type Problem } from '$lib/api/client';
import { Act } from './act.svelte';

vi.mock('$app/navigation', () => ({ goto: vi.fn(), invalidateAll: vi.fn() }));

const refuse = (status: number) => () =>
	Promise.reject(new Refused({ status, detail: 'No.', title: '', type: '' } as Problem));

test('one deed at a time; the screen is read anew after it', async () => {
	const act = new Act();
	let end!: (out: string) => void;
	const first = act.run(() => new Promise<string>((resolve) => (end = resolve)));
	expect(act.running).toBe(true);
	expect(await act.run(() => Promise.resolve('second'))).toBeUndefined();
	end('first');
	expect(await first).toBe('first');
	expect(invalidateAll).toHaveBeenCalledTimes(1);
	expect(act.running).toBe(false);
});

test('a refusal stays until the next try; who was slower sees what is, who is signed out the door', async () => {
	const act = new Act();
	vi.mocked(invalidateAll).mockClear();
	await act.run(refuse(422));
	expect(act.problem?.detail).toBe('No.');
	expect(invalidateAll).not.toHaveBeenCalled();
	await act.run(refuse(409));
	expect(invalidateAll).toHaveBeenCalledTimes(1);
	await act.run(refuse(401));
	expect(goto).toHaveBeenCalled();
	await act.run(() => Promise.resolve('good'));
	expect(act.problem).toBeUndefined();
});

test('a question leaves the screen as it is, and is refused like a deed', async () => {
	const act = new Act();
	vi.mocked(invalidateAll).mockClear();
	expect(await act.ask(() => Promise.resolve('known'))).toBe('known');
	expect(await act.ask(refuse(422))).toBeUndefined();
	expect(act.problem?.detail).toBe('No.');
	expect(invalidateAll).not.toHaveBeenCalled();
	expect(act.running).toBe(false);
});

test('a fault of the page itself is not hidden', async () => {
	const act = new Act();
	await expect(act.run(() => Promise.reject(new TypeError('oh')))).rejects.toThrow('oh');
	expect(act.running).toBe(false);
});
