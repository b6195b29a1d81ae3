/** Proving again who one is, before what needs more care. */

let answer: ((proved: boolean) => void) | undefined;

/** Whether the question stands on the screen. */
export const proof = $state({ asked: false });

/** Asks, and tells whether it was proved. */
export function prove(): Promise<boolean> {
	proof.asked = true;
	return new Promise((resolve) => (answer = resolve));
}

/** Ends the question. */
export function proved(yes: boolean) {
	proof.asked = false;
	answer?.(yes);
	answer = undefined;
}
