import { expect, test } from 'vitest';
import { askingForPeople, inWords, sourceOf, sources, type Source } from './sources';

const named = {
	team: (key: string) => ({ keys: 'Keys & Badges' })[key] ?? '',
	person: (login: string) => ({ quist: 'Ragnhild Quist' })[login] ?? '',
	question: (key: string) => ({ mate: 'Who goes with you?' })[key] ?? ''
};

test.each<[Source, string]>([
	[{ source: 'lineManager' }, "the asker's line manager"],
	[{ source: 'costCentreOwner' }, 'the owners of the cost centres that pay'],
	[{ source: 'teamLead', team: 'keys' }, 'the lead of Keys & Badges'],
	[{ source: 'teamLead', team: '' }, 'the lead of a team'],
	[{ source: 'team', team: 'keys' }, 'everybody of Keys & Badges'],
	[{ source: 'team', team: 'gone' }, 'everybody of a team'],
	[{ source: 'person', person: 'quist' }, 'Ragnhild Quist'],
	[{ source: 'person', person: '' }, 'nobody yet'],
	[{ source: 'answer', question: 'mate' }, 'who is named in “Who goes with you?”'],
	[{ source: 'manager', level: 3 }, 'the manager 3 up from the asker'],
	[{ source: 'manager' }, 'the manager ? up from the asker']
])('%j reads as %s', (source, words) => expect(inWords(source, named)).toBe(words));

test('a way begins with what it needs, and means nobody yet', () => {
	for (const source of Object.keys(sources) as Source['source'][]) {
		const begun = sourceOf(source);
		expect(begun.source).toBe(source);
		for (const field of ['team', 'person', 'question'] as const) expect(begun[field] ?? '').toBe('');
	}
	expect(sourceOf('manager').level).toBe(2);
});

test('people are asked for by questions, and by columns of tables', () => {
	const question = (key: string, kind: 'person' | 'text' | 'table', columns?: object[]) =>
		({ key, kind, label: `The ${key}`, columns }) as Parameters<typeof askingForPeople>[0][number];
	expect(
		askingForPeople([
			question('mate', 'person'),
			question('why', 'text'),
			question('crew', 'table', [question('who', 'person'), question('days', 'text')])
		])
	).toEqual([
		{ key: 'mate', label: 'The mate' },
		{ key: 'crew.who', label: 'The crew: The who' }
	]);
});
