import { expect, test } from 'vitest';
import { Paged } from './paged.svelte';

test('further pages follow the first one, and begin anew with it', async () => {
	let first = $state.raw({ entries: [1, 2], next: 'a' });
	const pages: Record<string, { entries: number[]; next?: string }> = {
		a: { entries: [3, 4], next: 'b' },
		b: { entries: [5] }
	};
	const list = new Paged(
		() => first,
		(after) => Promise.resolve(pages[after]!)
	);
	await list.more();
	await list.more();
	expect(list.entries).toEqual([1, 2, 3, 4, 5]);
	expect(list.next).toBeUndefined();
	first = { entries: [0, 1], next: 'a' };
	expect(list.entries).toEqual([0, 1]);
	expect(list.next).toBe('a');
});

test('a page of a list that was read anew meanwhile counts for nothing', async () => {
	let first = $state.raw({ entries: ['old'], next: 'a' });
	let arrive!: (page: { entries: string[] }) => void;
	const list = new Paged(
		() => first,
		() => new Promise<{ entries: string[] }>((resolve) => (arrive = resolve))
	);
	const more = list.more();
	first = { entries: ['new'], next: 'a' };
	arrive({ entries: ['older'] });
	await more;
	expect(list.entries).toEqual(['new']);
});

test('what is empty and goes on is passed over', async () => {
	const first: { entries: number[]; next?: string } = { entries: [], next: 'a' };
	const pages: Record<string, typeof first> = {
		a: { entries: [], next: 'b' },
		b: { entries: [1], next: 'c' },
		c: { entries: [] }
	};
	const list = new Paged(
		() => first,
		(after) => Promise.resolve(pages[after]!)
	);
	await list.more();
	expect(list.entries).toEqual([1]);
	expect(list.next).toBe('c');
	await list.more();
	expect(list.next).toBeUndefined();
});
