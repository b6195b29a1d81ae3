import type { Schema } from '$lib/api/client';

export type Source = Schema['LadderSource'];

/** The ways to find who decides, in words. */
export const sources: Record<Source['source'], string> = {
	lineManager: "the asker's line manager",
	manager: 'a manager further up from the asker',
	beneficiaryManager: 'the line manager of who it is for',
	costCentreOwner: 'the owners of the cost centres that pay',
	serviceOwner: 'the owner of the service',
	teamLead: 'the lead of a team',
	team: 'everybody of a team',
	person: 'a named person',
	answer: 'the person in an answer'
};

/** A way with what it needs, to begin with: nobody is meant before somebody is chosen. */
export function sourceOf(source: Source['source']): Source {
	switch (source) {
		case 'teamLead':
		case 'team':
			return { source, team: '' };
		case 'person':
			return { source, person: '' };
		case 'answer':
			return { source, question: '' };
		case 'manager':
			return { source, level: 2 };
		default:
			return { source };
	}
}

type Question = Schema['FormQuestion'];

/** Questions that ask for a person, columns of tables included. */
export const askingForPeople = (questions: Question[]) =>
	questions.flatMap((q) =>
		q.kind === 'person'
			? [{ key: q.key, label: q.label }]
			: (q.columns ?? [])
					.filter((c) => c.kind === 'person')
					.map((c) => ({ key: `${q.key}.${c.key}`, label: `${q.label}: ${c.label}` }))
	);

/** Who decides, in words with their names. */
export function inWords(
	source: Source,
	named: {
		team: (key: string) => string;
		person: (login: string) => string;
		question: (key: string) => string;
	}
): string {
	switch (source.source) {
		case 'teamLead':
			return `the lead of ${named.team(source.team ?? '') || 'a team'}`;
		case 'team':
			return `everybody of ${named.team(source.team ?? '') || 'a team'}`;
		case 'person':
			return named.person(source.person ?? '') || 'nobody yet';
		case 'answer':
			return `who is named in “${named.question(source.question ?? '')}”`;
		case 'manager':
			return `the manager ${source.level ?? '?'} up from the asker`;
		default:
			return sources[source.source];
	}
}
