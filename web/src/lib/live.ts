import { invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

/**
 * Reads the screen anew when something changes that concerns the person.
 * Nothing is missed since the event that the screen was read after. One tab of the browser holds the stream and tells the others.
 */
export function listen(after: number): () => void {
	const channel = new BroadcastChannel('heptad-live');
	const ended = new AbortController();
	let waiting: ReturnType<typeof setTimeout> | undefined;
	const refresh = () => {
		clearTimeout(waiting);
		// Reading anew would cut off a change of page that is under way.
		waiting = setTimeout(() => (navigating.to ? refresh() : void invalidateAll()), 60);
	};
	channel.onmessage = refresh;
	void navigator.locks
		.request('heptad-live', { signal: ended.signal }, () =>
			stream(after, ended.signal, () => {
				refresh();
				channel.postMessage('change');
			})
		)
		.catch(() => undefined); // the tab closed before its turn came
	return () => {
		ended.abort();
		channel.close();
		clearTimeout(waiting);
	};
}

/** Holds the stream until the signal. */
function stream(after: number, signal: AbortSignal, changed: () => void): Promise<void> {
	const source = new EventSource(`/api/live?after=${after}`);
	source.addEventListener('change', changed);
	source.addEventListener('refresh', changed);
	return new Promise((resolve) =>
		signal.addEventListener('abort', () => {
			source.close();
			resolve();
		})
	);
}
