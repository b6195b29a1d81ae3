import { expect, test, vi } from 'vitest';
import { Refused, unreachable } from '$lib/api/client';
import { Names } from './names.svelte';

const centres = [
	{ key: 'CC-4100', name: 'MV Tern Dancer' },
	{ key: 'CC-4110', name: 'MV Grey Heron' },
	{ key: 'CC-9000', name: 'CC-9000' }
];

function finding() {
	const find = vi.fn(({ words, keys }: { words?: string; keys?: string[] }) =>
		Promise.resolve({
			entries: centres.filter((c) => keys?.includes(c.key) ?? c.name.toLowerCase().includes(words ?? ''))
		})
	);
	return { find, names: new Names(find, (c) => (c.name === c.key ? c.name : `${c.name} (${c.key})`)) };
}

test('what is found by words is known by its name from then on', async () => {
	const { find, names } = finding();
	expect(names.of('CC-4100')).toBe('CC-4100');
	expect(await names.look('tern')).toEqual([{ key: 'CC-4100', label: 'MV Tern Dancer (CC-4100)' }]);
	expect(names.of('CC-4100')).toBe('MV Tern Dancer (CC-4100)');
	await names.know(['CC-4100']);
	expect(find).toHaveBeenCalledTimes(1);
});

test('names of keys are asked for once, those unknown only', async () => {
	const { find, names } = finding();
	await names.look('heron');
	await names.know(['CC-4110', 'CC-4100', 'CC-9000', '', 'CC-0000']);
	expect(find).toHaveBeenLastCalledWith({ keys: ['CC-4100', 'CC-9000', 'CC-0000'] });
	expect([names.of('CC-4100'), names.of('CC-9000'), names.of('CC-0000')]).toEqual([
		'MV Tern Dancer (CC-4100)',
		'CC-9000',
		'CC-0000'
	]);
	await names.know(['CC-0000', 'CC-9000']);
	expect(find).toHaveBeenCalledTimes(2);
});

test('nothing is asked for where nothing is chosen', async () => {
	const { find, names } = finding();
	await names.know([]);
	await names.know(['']);
	expect(find).not.toHaveBeenCalled();
});

test('of very many keys no more are asked for than one answer holds', async () => {
	const { find, names } = finding();
	await names.know(Array.from({ length: 70 }, (_, i) => `K-${i}`));
	expect(find.mock.calls[0]?.[0].keys).toHaveLength(50);
});

test('what is not answered goes by its key, and the page goes on', async () => {
	const find = vi.fn(() => Promise.reject(new Refused(unreachable)));
	const names = new Names(find);
	await names.know(['CC-4100']);
	await names.know(['CC-4100']);
	expect(names.of('CC-4100')).toBe('CC-4100');
	expect(find).toHaveBeenCalledTimes(1);
	const fault = new Names(() => Promise.reject(new TypeError('a fault of the page')));
	await expect(fault.know(['CC-1'])).rejects.toThrow('a fault');
});
