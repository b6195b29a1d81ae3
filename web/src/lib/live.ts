import { invalidateAll } from '$app/navigation';

/**
 * Reads the screen anew when something changes that concerns the person.
 * One tab of the browser holds the stream and tells the others.
 */
export function listen(): () => void {
	const channel = new BroadcastChannel('heptad-live');
	const ended = new AbortController();
	let waiting: ReturnType<typeof setTimeout> | undefined;
	const refresh = () => {
		clearTimeout(waiting);
		waiting = setTimeout(() => void invalidateAll(), 60);
	};
	channel.onmessage = refresh;
	void navigator.locks
		.request('heptad-live', { signal: ended.signal }, () =>
			stream(ended.signal, () => {
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
function stream(signal: AbortSignal, changed: () => void): Promise<void> {
	const source = new EventSource('/api/live');
	source.addEventListener('change', changed);
	source.addEventListener('refresh', changed);
	return new Promise((resolve) =>
		signal.addEventListener('abort', () => {
			source.close();
			resolve();
		})
	);
}
