/** Counts of what waits for the person on each desk, and of what they have not read. */
export type Waits = { ask: number; follow: number; decide: number; deliver: number; unread: number };

/** Those of the last change, until the session is read anew. */
class Told {
	now = $state.raw<Waits | undefined>();
}
export const waits = new Told();
