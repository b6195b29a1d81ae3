import { goto, invalidateAll } from '$app/navigation';
import { door, Refused, type Problem } from '$lib/api/client';
import { proving } from './proof.svelte';

/** A deed under way: while it runs its button rests, and its problem stays until the next try. */
export class Act {
	running = $state(false);
	problem = $state<Problem | undefined>();

	/** Does it and reads the screen anew. Gives what came out, or undefined when it was refused. */
	run<T>(deed: () => Promise<T>): Promise<T | undefined> {
		return this.ask(async () => {
			const out = await proving(deed);
			await invalidateAll();
			return out;
		});
	}

	/** The same of what changes nothing, after which the screen stays as it is. */
	async ask<T>(question: () => Promise<T>): Promise<T | undefined> {
		if (this.running) return undefined;
		this.running = true;
		this.problem = undefined;
		try {
			return await question();
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			this.problem = refused.problem;
			if (refused.problem.status === 401) await goto(door());
			else if (refused.problem.status === 409) await invalidateAll(); // somebody was faster: show what is
			return undefined;
		} finally {
			this.running = false;
		}
	}
}
