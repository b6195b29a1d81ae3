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

/** A way with what it needs, to begin with. */
export function sourceOf(
	source: Source['source'],
	first: { team: string; person: string; question: string }
): Source {
	switch (source) {
		case 'teamLead':
		case 'team':
			return { source, team: first.team };
		case 'person':
			return { source, person: first.person };
		case 'answer':
			return { source, question: first.question };
		case 'manager':
			return { source, level: 2 };
		default:
			return { source };
	}
}
