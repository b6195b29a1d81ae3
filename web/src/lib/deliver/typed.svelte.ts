/** What was typed so far, by task: looking at another one in between loses none. */
type Typed = { word?: string; say?: string; outputs?: Record<string, string> };
type Path = { request: string; task: string };

const all = $state<Record<string, Typed>>({});
const key = (path: Path) => `${path.request}/${path.task}`;

export const typed = {
	of: (path: Path): Typed => all[key(path)] ?? {},
	set: (path: Path, change: Typed) => (all[key(path)] = { ...all[key(path)], ...change }),
	drop: (path: Path) => delete all[key(path)]
};
