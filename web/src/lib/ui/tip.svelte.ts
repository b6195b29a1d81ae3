/** What is pointed at, or has the focus, and the words about it. There is one at a time. */
export const pointed = $state<{ at?: { node: HTMLElement; words: string } }>({});

const show = (node: HTMLElement, words: string) => (pointed.at = { node, words });
const hide = (node: HTMLElement) => {
	if (pointed.at?.node === node) pointed.at = undefined;
};

/** Words about an element, shown while it is pointed at or has the focus. They
 * repeat or round off what is there without them: whoever touches a screen, or
 * hears it, misses nothing. */
export const tip = (words: string | undefined) => (node: HTMLElement) => {
	if (!words) return;
	const over = () => show(node, words);
	const off = () => hide(node);
	const on = { pointerenter: over, focus: over, pointerleave: off, blur: off, pointerdown: off };
	for (const [event, listen] of Object.entries(on)) node.addEventListener(event, listen);
	return () => {
		for (const [event, listen] of Object.entries(on)) node.removeEventListener(event, listen);
		off();
	};
};
