const isPlain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null;

/**
 * What has just come from the program, with the objects of before wherever they say the same:
 * what has not changed is not put on the screen again.
 */
export function share<T>(before: unknown, now: T): T {
	if (before === now || !isPlain(before) || !isPlain(now) || Array.isArray(before) !== Array.isArray(now))
		return now;
	const next = (Array.isArray(now) ? [] : {}) as Record<string, unknown>;
	const keys = Object.keys(now);
	let same = keys.length === Object.keys(before).length;
	for (const key of keys) {
		next[key] = share(before[key], now[key]);
		same &&= key in before && next[key] === before[key];
	}
	return (same ? before : next) as T;
}
