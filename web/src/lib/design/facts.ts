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
	if (steps[0] !== 'audience') {
		if (column)
			for (const c of question?.columns ?? [])
				facts.push(ofQuestion(c, document.items.list, 'row.', 'This row'));
		for (const q of document.questions)
			if (q.kind !== 'statement') facts.push(ofQuestion(q, document.items.list));
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
