/** What scrolls an element: the nearest that scrolls by itself, or nothing for the window. */
export function boxOf(node: Element): HTMLElement | undefined {
	for (let at = node.parentElement; at && at !== document.body; at = at.parentElement)
		if (['auto', 'scroll'].includes(getComputedStyle(at).overflowY)) return at;
	return undefined;
}

/** How far an element is below the top of what is scrolled, in pixels. */
export function placeIn(box: Element | undefined, node: Element): number {
	const { top } = node.getBoundingClientRect();
	return box ? top - box.getBoundingClientRect().top + box.scrollTop : top + window.scrollY;
}

/**
 * The room that is left before the first of the lines that are there, before each other, and after the last, in pixels.
 * Lines begin and end on what is scrolled, the list at its margin.
 */
export function gapsOf(lines: { start: number; end: number }[], total: number, margin: number) {
	const first = (lines[0]?.start ?? margin) - margin;
	const last = total - ((lines.at(-1)?.end ?? margin) - margin);
	const before = lines.map((line, i) =>
		Math.max(0, line.start - (i ? (lines[i - 1]?.end ?? 0) : line.start))
	);
	return { first: Math.max(0, first), before, last: Math.max(0, last) };
}
