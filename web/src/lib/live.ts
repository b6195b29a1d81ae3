import { invalidate, invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';
import { waits, type Waits } from './waits.svelte';

/** What has changed, as the stream tells it; all, when something was missed. */
export type Change = {
	kind: 'request' | 'message' | 'company' | 'calendar' | 'catalog' | 'all';
	/** IDs of the requests. */
	ids?: string[];
	/** What waits for the person now. */
	waits?: Waits;
};

/** How long a change waits at least and at most, so that not all pages read at the same instant; in milliseconds. */
const soon = [40, 340] as const;
/** What nobody waits for has more time. */
const later = [40, 5000] as const;
/** How far apart a page reads anew, in milliseconds. */
const apart = 1000;

const lists = new Set(
	'requests decisions tasks find overview parts own-list belongings secrets joined messages background slip absences measure'.split(
		' '
	)
);
const offered = new Set('offerings picks search design portfolio bundles hanging moving-in slip'.split(' '));

/** Whether what was read from an address may be otherwise after a change. */
export function touches({ pathname, search }: { pathname: string; search: string }, change: Change): boolean {
	const [, api, of = '', id, ...rest] = pathname.split('/');
	if (api !== 'api') return false;
	switch (change.kind) {
		case 'request':
			if (!id) return lists.has(of);
			if (of === 'teams' || rest.some((part) => ['ties', 'around', 'faults'].includes(part))) return true;
			return !!change.ids?.some((one) => pathname.includes(one) || search.includes(one));
		case 'message':
			return of === 'messages';
		case 'catalog':
			return offered.has(of);
		default:
			return true;
	}
}

/**
 * Reads on the screen anew what has changed and concerns the person, and nothing else.
 * Nothing is missed since the event that the screen was read after. One tab of the browser holds the stream and tells the others.
 */
export function listen(after: number): () => void {
	const channel = new BroadcastChannel('heptad-live');
	const ended = new AbortController();
	let changes: Change[] = [];
	let timer: ReturnType<typeof setTimeout> | undefined;
	let due = 0; // of the timer
	let read = 0;

	const hear = (change: Change) => {
		if (change.waits) waits.now = change.waits;
		changes.push(change);
		plan(change.kind === 'catalog' || change.kind === 'calendar' ? later : soon);
	};
	function plan([least, most]: readonly [number, number]) {
		const now = Date.now();
		const at = Math.max(now + least + Math.random() * (most - least), read + apart);
		if (document.hidden || (timer && due <= at)) return; // what has time keeps nothing else waiting
		clearTimeout(timer);
		due = at;
		timer = setTimeout(refresh, at - now);
	}
	function refresh() {
		timer = undefined;
		if (navigating.to) return plan(soon); // reading anew would cut off a change of page that is under way
		const all = changes;
		changes = [];
		read = Date.now();
		if (all.some((c) => c.kind === 'all' || c.kind === 'company')) void invalidateAll();
		else void invalidate((url) => all.some((c) => touches(url, c)));
	}
	const shown = () => changes.length && plan(soon);
	document.addEventListener('visibilitychange', shown);

	channel.onmessage = (e: MessageEvent<Change>) => hear(e.data);
	void navigator.locks
		.request('heptad-live', { signal: ended.signal }, () =>
			stream(after, ended.signal, (change) => {
				hear(change);
				channel.postMessage(change);
			})
		)
		.catch(() => undefined); // the tab closed before its turn came
	return () => {
		ended.abort();
		channel.close();
		clearTimeout(timer);
		document.removeEventListener('visibilitychange', shown);
	};
}

/** Holds the stream until the signal. */
function stream(after: number, signal: AbortSignal, changed: (change: Change) => void): Promise<void> {
	const source = new EventSource(`/api/live?after=${after}`);
	source.addEventListener('change', (e: MessageEvent<string>) => changed(JSON.parse(e.data) as Change));
	source.addEventListener('refresh', () => changed({ kind: 'all' }));
	return new Promise((resolve) =>
		signal.addEventListener('abort', () => {
			source.close();
			resolve();
		})
	);
}
