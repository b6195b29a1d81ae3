import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { invalidateAll } from '$app/navigation';
import { listen } from './live';

vi.mock('$app/navigation', () => ({ invalidateAll: vi.fn() }));
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
}
/** Tabs that hear each other. */
class Channel {
	static all: Channel[] = [];
	onmessage?: () => void;
	constructor() {
		Channel.all.push(this);
	}
	postMessage() {
		for (const other of Channel.all) if (other !== this) other.onmessage?.();
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
	vi.mocked(invalidateAll).mockClear();
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

test('one tab holds the stream, all read anew, and another takes over', async () => {
	const one = listen(7);
	const two = listen(7);
	await vi.advanceTimersByTimeAsync(0);
	expect(Source.open.map((s) => s.url)).toEqual(['/api/live?after=7']);
	Source.open[0]!.dispatchEvent(new Event('change'));
	Source.open[0]!.dispatchEvent(new Event('change'));
	await vi.advanceTimersByTimeAsync(100);
	expect(invalidateAll).toHaveBeenCalledTimes(2); // each tab once, however many changes
	one();
	await vi.advanceTimersByTimeAsync(0);
	expect(Source.open.map((s) => s.closed)).toEqual([true, false]);
	two();
});

test('a change of page under way is not cut off', async () => {
	const end = listen(0);
	await vi.advanceTimersByTimeAsync(0);
	changing.to = {};
	Source.open[0]!.dispatchEvent(new Event('refresh'));
	await vi.advanceTimersByTimeAsync(500);
	expect(invalidateAll).not.toHaveBeenCalled();
	changing.to = null;
	await vi.advanceTimersByTimeAsync(100);
	expect(invalidateAll).toHaveBeenCalledTimes(1);
	end();
});
