import type { Schema } from '$lib/api/client';

type Question = Schema['FormQuestion'];
export type KindInfo = Schema['FormKindInfo'];

/** What people call a kind of question. */
export const kindName = (kinds: KindInfo[], kind: Question['kind']) =>
	kinds.find((k) => k.kind === kind)?.name ?? kind;

/** Reports whether a kind of question has a field that only some kinds have. */
export const kindHas = (kinds: KindInfo[], kind: Question['kind'], field: keyof Question) =>
	Boolean(kinds.find((k) => k.kind === kind)?.has.includes(field));

export const widths = { full: 'Whole row', twoThirds: 'Two thirds', half: 'Half', third: 'A third' } as const;

/** Makes a question another kind, and takes away what that kind does not have. */
export function become(q: Question, kind: Question['kind'], kinds: KindInfo[], items: string[]) {
	const had = q.kind;
	q.kind = kind;
	const has = new Set(kinds.find((k) => k.kind === kind)?.has);
	for (const field of new Set(kinds.flatMap((k) => k.has)))
		if (!has.has(field)) delete q[field as keyof Question];
	if (had !== kind) for (const field of ['min', 'max', 'step', 'preset'] as const) delete q[field];
	if (has.has('choices')) q.choices ??= [];
	if (has.has('items')) q.items = items;
	if (has.has('columns')) q.columns ??= [];
	if (has.has('gives')) q.gives ??= 'number';
}
