import type { Schema } from '$lib/api/client';
import { costCentres, Names } from '$lib/names.svelte';
import type { Rules } from './editor.svelte';

type Question = Schema['FormQuestion'];
type Comparison = Schema['RuleComparison'];
type Sort = Schema['RuleSort'];

/** Something a condition can compare: a question, or a fact about people, costs, rows or choices. */
export type Fact = {
	path: string;
	label: string;
	group: string;
	sort: Sort;
	choices?: { key: string; label: string }[];
	/** Its values are found by words, as there can be thousands. */
	found?: Names;
	/** Why it cannot be compared here. */
	barred?: string;
};

/** How many values a comparison takes; a group has none of its own. */
export const takes = (sorts: Sort[], compare: Comparison['compare']) =>
	sorts.flatMap((s) => s.ways).find((w) => w.compare === compare)?.values ?? 'none';
/** The comparison that one begins with. */
export const firstWay = (fact: Fact | undefined): Comparison['compare'] =>
	fact?.sort.ways[0]?.compare ?? 'answered';
/** Reports whether a comparison can be with another fact. */
export const comparesFacts = (fact: Fact | undefined, compare: Comparison['compare']) =>
	Boolean(fact?.sort.ways.find((w) => w.compare === compare)?.facts);
/** Reports whether one fact can be compared with another. */
export const sameSort = (a: Fact, b: Fact) =>
	a.path !== b.path && a.sort.key === b.sort.key && a.sort.ways.some((w) => w.facts);

const ofQuestion = (
	q: Question,
	items: Schema['PriceItem'][],
	materials: Rules['materials'],
	sort: Sort,
	prefix = '',
	group = 'Questions'
): Fact => ({
	path: prefix + q.key,
	label: q.label || q.key,
	group,
	sort,
	choices: choicesOf(q, items, materials),
	found: q.kind === 'costCentre' ? costCentres : undefined
});

function choicesOf(q: Question, items: Schema['PriceItem'][], materials: Rules['materials']) {
	switch (q.kind) {
		case 'items':
			return items.filter((i) => q.items?.includes(i.key)).map((i) => ({ key: i.key, label: i.name }));
		case 'team':
			return materials.teams.map((t) => ({ key: t.key, label: t.name }));
		case 'location':
			return same(materials.facts.places);
		default:
			return q.choices?.map((c) => ({ key: c.key, label: c.label }));
	}
}

/** All the rules of a question, those of its columns too. */
const rulesOf = (q: Question): string =>
	[
		...[q.show, q.require, q.lock, q.offer, q.preset, q.compute, q.present],
		...(q.check ?? []).map((c) => c.rule),
		...(q.columns ?? []).map(rulesOf)
	].join('\n');

/** Keys of the questions whose rules read one, directly or through others. */
function dependants(key: string, questions: Question[], root: 'answers' | 'row'): string[] {
	const found = [key];
	for (const one of found)
		for (const q of questions)
			if (!found.includes(q.key) && new RegExp(`\\b${root}\\.${one}\\b`).test(rulesOf(q))) found.push(q.key);
	return found.slice(1);
}
const reads = (circle: string[], key: string, of: Question | undefined) =>
	circle.includes(key) ? `its own rules read “${of?.label || of?.key}”` : undefined;

const same = (values: string[]) => values.map((v) => ({ key: v, label: v }));

/** Which facts a rule at a place can compare. */
export function factsAt(
	place: string,
	document: Schema['OfferingDocument'],
	materials: Rules['materials']
): Fact[] {
	const company = materials.facts;
	const sort = (key: Sort['key']) =>
		materials.sorts.find((s) => s.key === key) ?? { key: 'other', as: 'text', ways: [] };
	const sortOf = (q: Question) => {
		const kind = q.kind === 'computed' ? (q.gives ?? 'text') : q.kind;
		return sort(materials.kinds.find((k) => k.kind === kind)?.sort ?? 'other');
	};
	const steps = place.split('/').slice(1);
	const facts: Fact[] = [];
	const question = steps[0] === 'questions' ? document.questions[Number(steps[1])] : undefined;
	const column = steps[2] === 'columns' ? question?.columns?.[Number(steps[3])] : undefined;
	if (steps.at(-1) === 'offer') {
		const groups = [
			...new Set((column ?? question)?.choices?.map((c) => c.group ?? '').filter(Boolean) ?? [])
		];
		for (const [field, values] of Object.entries({ group: same(groups), key: [], department: [], name: [] }))
			facts.push({
				path: `choice.${field}`,
				label: `its ${field}`,
				group: 'Each choice',
				sort: sort('text'),
				choices: values.length ? values : undefined
			});
	}
	const about = steps[2] === 'check' || steps[4] === 'check'; // a check is about the answer itself
	if (steps[0] !== 'audience') {
		if (column) {
			const circle = about ? [] : dependants(column.key, question?.columns ?? [], 'row');
			for (const c of question?.columns ?? []) {
				const fact = ofQuestion(c, document.items.list, materials, sortOf(c), 'row.', 'This row');
				facts.push({
					...fact,
					barred: c === column && !about ? 'it is this column' : reads(circle, c.key, column)
				});
			}
		}
		const circle = question && !about ? dependants(question.key, document.questions, 'answers') : [];
		for (const q of document.questions)
			if (q.kind !== 'statement') {
				const barred = q === question && !about ? 'it is this question' : reads(circle, q.key, question);
				facts.push({ ...ofQuestion(q, document.items.list, materials, sortOf(q)), barred });
			}
	}
	const people = steps[0] === 'audience' && steps[1] !== 'for' ? ['asker'] : ['asker', 'beneficiary'];
	for (const who of people) {
		const group = who === 'asker' ? 'Who asks' : 'Who it is for';
		for (const [field, label, values] of [
			['department', 'department', same(company.departments)],
			['location', 'place', same(company.places)],
			['employment', 'employment', same(company.employments)],
			['grade', 'grade', same(company.grades)],
			['costCentre', 'cost centre', costCentres],
			['title', 'job', undefined]
		] as const)
			facts.push({
				path: `${who}.${field}`,
				label: `${group}: ${label}`,
				group,
				sort: sort(values ? 'choice' : 'text'),
				...(values instanceof Names ? { found: values } : { choices: values })
			});
	}
	if (steps[0] !== 'audience' && steps[0] !== 'items')
		for (const [field, label] of [
			['once', 'once'],
			['monthly', 'a month'],
			['firstYear', 'in the first year']
		])
			facts.push({ path: `cost.${field}`, label: `Cost ${label}`, group: 'Cost', sort: sort('money') });
	return facts;
}
