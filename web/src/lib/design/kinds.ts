import type { Schema } from '$lib/api/client';

type Question = Schema['FormQuestion'];

/** What people call the kinds of question. */
export const kinds: Record<Question['kind'], string> = {
	text: 'Short text',
	longText: 'Long text',
	number: 'Number',
	money: 'Sum of money',
	date: 'Date',
	dateTime: 'Date and time',
	yesNo: 'Yes or no',
	choice: 'One choice',
	choices: 'Several choices',
	person: 'Person',
	team: 'Team',
	location: 'Place',
	costCentre: 'Cost centre',
	belonging: 'Belonging',
	items: 'Item pick',
	table: 'Table',
	file: 'File',
	computed: 'Computed',
	statement: 'Statement'
};

/** Kinds that the column of a table can be. */
export const columnKinds = Object.keys(kinds).filter(
	(k) => !['table', 'items', 'statement'].includes(k)
) as Question['kind'][];

export const widths = { full: 'Whole row', twoThirds: 'Two thirds', half: 'Half', third: 'A third' } as const;

/** Makes a question another kind, and takes away what that kind does not have. */
export function become(q: Question, kind: Question['kind'], items: string[]) {
	const had = q.kind;
	q.kind = kind;
	const drop = (...fields: (keyof Question)[]) => fields.forEach((f) => delete q[f]);
	if (!['choice', 'choices'].includes(kind)) drop('choices');
	else q.choices ??= [];
	if (kind === 'items') q.items = items;
	else drop('items');
	if (kind === 'table') q.columns ??= [];
	else drop('columns');
	if (kind === 'computed') q.gives ??= 'number';
	else drop('gives', 'compute');
	if (!['text', 'longText'].includes(kind)) drop('minLength', 'maxLength', 'pattern', 'example', 'words');
	if (!['number', 'money', 'date'].includes(kind) || had !== kind) drop('min', 'max', 'step');
	if (!['choices', 'table', 'file', 'items'].includes(kind)) drop('minCount', 'maxCount');
	if (kind !== 'file') drop('fileTypes', 'maxSize');
	if (['table', 'file', 'computed', 'statement'].includes(kind) || had !== kind) drop('preset');
	if (!['choice', 'choices', 'items', 'person', 'team', 'location', 'costCentre', 'belonging'].includes(kind))
		drop('offer');
	if (kind === 'statement') drop('require', 'lock', 'check', 'present');
}
