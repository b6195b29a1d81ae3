import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { invalidate, invalidateAll } from '$app/navigation';
import { listen, touches, type Change } from './live';
import { waits } from './waits.svelte';

vi.mock('$app/navigation', () => ({ invalidate: vi.fn(), invalidateAll: vi.fn() }));
const changing = vi.hoisted(() => ({ to: null as object | null }));
vi.mock('$app/state', () => ({ navigating: changing }));

/** A stream that the test speaks on. */
class Source extends EventTarget {
	static open: Source[] = [];
	closed = false;
	constructor(readonly url: string) {
		super();
		Source.open.push(this);
	}
	close() {
		this.closed = true;
	}
	tell(change: Change) {
		this.dispatchEvent(new MessageEvent('change', { data: JSON.stringify(change) }));
	}
}
/** Tabs that hear each other. */
class Channel {
	static all: Channel[] = [];
	onmessage?: (e: { data: unknown }) => void;
	constructor() {
		Channel.all.push(this);
	}
	postMessage(data: unknown) {
		for (const other of Channel.all) if (other !== this) other.onmessage?.({ data });
	}
	close() {
		Channel.all = Channel.all.filter((c) => c !== this);
	}
}

beforeEach(() => {
	vi.useFakeTimers();
	Source.open = [];
	Channel.all = [];
	changing.to = null;
	vi.mocked(invalidate).mockClear();
	vi.mocked(invalidateAll).mockClear();
	waits.now = undefined;
	vi.stubGlobal('EventSource', Source);
	vi.stubGlobal('BroadcastChannel', Channel);
	let held: Promise<void> = Promise.resolve();
	vi.stubGlobal('navigator', {
		locks: {
			request: (_: string, { signal }: { signal: AbortSignal }, hold: () => Promise<void>) =>
				(held = held.then(() => (signal.aborted ? undefined : hold())))
		}
	});
});
afterEach(() => vi.useRealTimers());

/** What the page has read anew, of some addresses, the last time. */
function readAnew(...paths: string[]) {
	const which = vi.mocked(invalidate).mock.lastCall?.[0] as (url: URL) => boolean;
	return paths.filter((path) => which(new URL(path, 'http://here')));
}

test('one tab holds the stream, all read what has changed, and another takes over', async () => {
	const one = listen(7);
	const two = listen(7);
	await vi.advanceTimersByTimeAsync(0);
	expect(Source.open.map((s) => s.url)).toEqual(['/api/live?after=7']);
	const counts = { ask: 0, follow: 1, decide: 0, deliver: 2, unread: 3 };
	Source.open[0]!.tell({ kind: 'request', ids: ['r1'], waits: counts });
	Source.open[0]!.tell({ kind: 'message' });
	await vi.advanceTimersByTimeAsync(400);
	expect(invalidate).toHaveBeenCalledTimes(2); // each tab once, however many changes
	expect(
		readAnew(
			'/api/requests',
			'/api/requests/r1',
			'/api/requests/r2',
			'/api/messages',
			'/api/session',
			'/api/offerings'
		)
	).toEqual(['/api/requests', '/api/requests/r1', '/api/messages']);
	expect(waits.now).toEqual(counts);
	Source.open[0]!.tell({ kind: 'request', ids: ['r2'] });
	await vi.advanceTimersByTimeAsync(400);
	expect(invalidate).toHaveBeenCalledTimes(2); // not again so soon
	await vi.advanceTimersByTimeAsync(700);
	expect(invalidate).toHaveBeenCalledTimes(4);
	one();
	await vi.advanceTimersByTimeAsync(0);
	expect(Source.open.map((s) => s.closed)).toEqual([true, false]);
	two();
});

test('what was missed has everything read anew, and nobody reads behind a hidden tab', async () => {
	const end = listen(0);
	await vi.advanceTimersByTimeAsync(0);
	const hidden = vi.spyOn(document, 'hidden', 'get').mockReturnValue(true);
	Source.open[0]!.dispatchEvent(new Event('refresh'));
	await vi.advanceTimersByTimeAsync(9000);
	expect(invalidateAll).not.toHaveBeenCalled();
	hidden.mockReturnValue(false);
	document.dispatchEvent(new Event('visibilitychange'));
	await vi.advanceTimersByTimeAsync(400);
	expect(invalidateAll).toHaveBeenCalledTimes(1);
	end();
});

test('what nobody waits for keeps nothing else waiting', async () => {
	const end = listen(0);
	await vi.advanceTimersByTimeAsync(0);
	vi.spyOn(Math, 'random').mockReturnValue(0.99);
	Source.open[0]!.tell({ kind: 'catalog' });
	Source.open[0]!.tell({ kind: 'request', ids: ['r1'] });
	await vi.advanceTimersByTimeAsync(400);
	expect(invalidate).toHaveBeenCalledTimes(1);
	expect(readAnew('/api/offerings', '/api/requests')).toEqual(['/api/offerings', '/api/requests']);
	await vi.advanceTimersByTimeAsync(6000);
	expect(invalidate).toHaveBeenCalledTimes(1);
	vi.mocked(Math.random).mockRestore();
	end();
});

test('a change of page under way is not cut off', async () => {
	const end = listen(0);
	await vi.advanceTimersByTimeAsync(0);
	changing.to = {};
	Source.open[0]!.dispatchEvent(new Event('refresh'));
	await vi.advanceTimersByTimeAsync(500);
	expect(invalidateAll).not.toHaveBeenCalled();
	changing.to = null;
	await vi.advanceTimersByTimeAsync(2000);
	expect(invalidateAll).toHaveBeenCalledTimes(1);
	end();
});

test.each<[Change['kind'], string, boolean]>([
	['request', '/api/tasks/r1/check', true],
	['request', '/api/tasks/r2/check', false],
	['request', '/api/requests/r2/ties', true],
	['request', '/api/offerings/o/faults', true],
	['request', '/api/offerings/o/form?request=r1', true],
	['request', '/api/offerings/o/form', false],
	['request', '/api/teams/t/load', true],
	['request', '/api/desk', false],
	['message', '/api/requests', false],
	['catalog', '/api/offerings', true],
	['catalog', '/api/design/o', true],
	['catalog', '/api/portfolio/offerings', true],
	['catalog', '/api/requests', false],
	['calendar', '/api/requests', true],
	['company', '/elsewhere', false]
])('a change of a %s: %s is read anew: %s', (kind, path, is) => {
	expect(touches(new URL(path, 'http://here'), { kind, ids: ['r1'] })).toBe(is);
});
