import type { Schema } from '$lib/api/client';

type Task = Schema['PlanTask'];

/** Who or what does a task. */
export const taskKinds: Record<Task['kind'], string> = {
	manual: 'by people',
	automatic: 'by itself',
	wait: 'a wait for a moment',
	message: 'a message'
};

/** Makes a task one of another kind. What both kinds have stays as it is. */
export function become(task: Task, kind: Task['kind']) {
	task.kind = kind;
	if (kind !== 'automatic') {
		delete task.action;
		delete task.tries;
	}
	if (kind !== 'manual') delete task.people;
	if (kind === 'wait' || kind === 'message')
		for (const key of [
			'routes',
			'lines',
			'mustDos',
			'outputs',
			'due',
			'rescue',
			'undo',
			'pool',
			'belonging'
		] as const)
			delete task[key];
	if (kind === 'wait') task.wait ??= { of: 'today' };
	else delete task.wait;
	if (kind === 'message') task.words ??= { to: 'asker', subject: '', text: '' };
	else delete task.words;
}

/** What an action is among those of the connectors. */
export const actionType = (connectors: Schema['PlanConnector'][], action: Schema['PlanAction'] | undefined) =>
	connectors.find((c) => c.key === action?.connector)?.actions.find((a) => a.key === action?.do);

/** Whether a task waits for another, directly or through others. */
export function waitsFor(plan: Task[], task: string, other: string): boolean {
	const seen = new Set<string>();
	const visit = (key: string): boolean => {
		if (seen.has(key)) return false;
		seen.add(key);
		const after = plan.find((t) => t.key === key)?.after ?? [];
		return after.includes(other) || after.some(visit);
	};
	return visit(task);
}
