/** Proving again who one is, before what needs more care. */

import { Refused } from '$lib/api/client';

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

/** Does something, and once more when who one is has to be proved before it. */
export async function proving<T>(deed: () => Promise<T>): Promise<T> {
	try {
		return await deed();
	} catch (refused) {
		const asked = refused instanceof Refused && refused.problem.code === 'proveAgain';
		if (asked && (await prove())) return deed();
		throw refused;
	}
}
