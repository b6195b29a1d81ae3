import type { Schema } from '$lib/api/client';

type Question = Schema['FormQuestion'];
type Comparison = Schema['RuleComparison'];

/** Something a condition can compare: a question, or a fact about people, costs, rows or choices. */
export type Fact = {
	path: string;
	label: string;
	group: string;
	sort: keyof typeof comparisons;
	choices?: { key: string; label: string }[];
	/** Why it cannot be compared here. */
	barred?: string;
};

type Words = [Comparison['compare'], string][];

/** How facts can be compared, by what they are. */
export const comparisons = {
	choice: [
		['is', 'is'],
		['isNot', 'is not'],
		['oneOf', 'is one of'],
		['notOneOf', 'is none of'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	choices: [
		['anyOf', 'has any of'],
		['allOf', 'has all of'],
		['noneOf', 'has none of'],
		['some', 'has something chosen'],
		['none', 'is empty']
	],
	items: [
		['picks', 'has any of'],
		['picksNone', 'has none of'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	yesNo: [
		['is', 'is'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	date: [
		['atLeast', 'is not before'],
		['less', 'is before'],
		['more', 'is after'],
		['atMost', 'is not after'],
		['is', 'is'],
		['within', 'is within'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	number: [
		['is', 'is'],
		['isNot', 'is not'],
		['less', 'is less than'],
		['atMost', 'is at most'],
		['more', 'is more than'],
		['atLeast', 'is at least'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	money: [
		['more', 'is more than'],
		['atLeast', 'is at least'],
		['less', 'is less than'],
		['atMost', 'is at most'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	text: [
		['is', 'is'],
		['isNot', 'is not'],
		['beginsWith', 'begins with'],
		['contains', 'contains'],
		['oneOf', 'is one of'],
		['answered', 'is answered'],
		['unanswered', 'is empty']
	],
	list: [
		['some', 'has something'],
		['none', 'is empty']
	],
	other: [
		['answered', 'is answered'],
		['unanswered', 'is empty']
	]
} satisfies Record<string, Words>;

export const wantsMany = (compare: Comparison['compare']) =>
	['oneOf', 'notOneOf', 'anyOf', 'allOf', 'noneOf', 'picks', 'picksNone'].includes(compare);
export const wantsNone = (compare: Comparison['compare']) =>
	['answered', 'unanswered', 'some', 'none', 'group'].includes(compare);

/** Whether the value can be another fact. */
export const comparesFacts = (compare: Comparison['compare']) =>
	['is', 'isNot', 'less', 'atMost', 'more', 'atLeast'].includes(compare);
/** Whether one fact can be compared with another. */
export const sameSort = (a: Fact, b: Fact) =>
	a.path !== b.path && a.sort === b.sort && ['date', 'number', 'money', 'choice', 'text'].includes(a.sort);

/** What the values of a fact are, as the program writes them in a rule. */
export const as = (fact: Fact | undefined): Comparison['as'] =>
	(({ number: 'number', money: 'money', date: 'date', yesNo: 'yesNo' }) as Record<string, Comparison['as']>)[
		fact?.sort ?? ''
	] ?? 'text';

function sortOf(q: Question): Fact['sort'] {
	const kind = q.kind === 'computed' ? (q.gives ?? 'text') : q.kind;
	switch (kind) {
		case 'choice':
		case 'choices':
		case 'items':
		case 'yesNo':
		case 'date':
		case 'number':
		case 'money':
			return kind;
		case 'team':
		case 'location':
		case 'costCentre':
		case 'text':
		case 'longText':
			return 'text';
		case 'table':
			return 'list';
	}
	return 'other';
}

const ofQuestion = (q: Question, items: Schema['PriceItem'][], prefix = '', group = 'Questions'): Fact => ({
	path: prefix + q.key,
	label: q.label || q.key,
	group,
	sort: sortOf(q),
	choices:
		q.kind === 'items'
			? items.filter((i) => q.items?.includes(i.key)).map((i) => ({ key: i.key, label: i.name }))
			: q.choices?.map((c) => ({ key: c.key, label: c.label }))
});

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
	company: Schema['CompanyFacts']
): Fact[] {
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
				sort: 'text',
				choices: values.length ? values : undefined
			});
	}
	const about = steps[2] === 'check' || steps[4] === 'check'; // a check is about the answer itself
	if (steps[0] !== 'audience') {
		if (column) {
			const circle = about ? [] : dependants(column.key, question?.columns ?? [], 'row');
			for (const c of question?.columns ?? []) {
				const fact = ofQuestion(c, document.items.list, 'row.', 'This row');
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
				facts.push({ ...ofQuestion(q, document.items.list), barred });
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
			['costCentre', 'cost centre', company.costCentres.map((c) => ({ key: c.key, label: c.name }))],
			['title', 'job', undefined]
		] as const)
			facts.push({
				path: `${who}.${field}`,
				label: `${group}: ${label}`,
				group,
				sort: values ? 'choice' : 'text',
				choices: values
			});
	}
	if (steps[0] !== 'audience' && steps[0] !== 'items')
		for (const [field, label] of [
			['once', 'once'],
			['monthly', 'a month'],
			['firstYear', 'in the first year']
		])
			facts.push({ path: `cost.${field}`, label: `Cost ${label}`, group: 'Cost', sort: 'money' });
	return facts;
}
