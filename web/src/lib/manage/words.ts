import type { Schema } from '$lib/api/client';

export type Kind =
	'people' | 'teams' | 'locations' | 'costCentres' | 'areas' | 'services' | 'belongings' | 'offerings';

/** What a kind of record is called: all of them, and one. Some are only read from sheets: they have desks of their own. */
export const kinds: Record<Kind, { all: string; one: string; intro: string; only?: boolean }> = {
	people: {
		all: 'People',
		one: 'person',
		intro: 'Everybody who can ask, decide or do. Details come from a sheet, or are written here.'
	},
	teams: {
		all: 'Teams',
		one: 'team',
		intro: 'Those who do the work. Each has a lead, members and, where it hands up, a next team upward.'
	},
	locations: {
		all: 'Locations',
		one: 'location',
		intro: 'Where people work. The calendar of a location keeps the time of those who work there.'
	},
	costCentres: {
		all: 'Cost centres',
		one: 'cost centre',
		intro: 'What pays. The owner answers for what it pays, and decides where a ladder asks them.'
	},
	areas: {
		all: 'Areas',
		one: 'area',
		intro:
			'Departments that serve employees. What an area says of its place in the portfolio and of a second yes holds for all its services.'
	},
	belongings: {
		all: 'Belongings',
		one: 'belonging',
		intro:
			'What people have had since before Heptad: badges, devices, licences. Read them from a sheet, and people find them under Follow, can hand them back, and a leaver is asked for them. What a request made is changed by requests.',
		only: true
	},
	offerings: {
		all: 'Heads of offerings',
		one: 'offering',
		intro:
			'A list you have of what people can ask for becomes drafts: name, text, words it is found by, service and team. Owners of the services are told, and finish them on Design. One that is there stays as it is.',
		only: true
	},
	services: {
		all: 'Services',
		one: 'service',
		intro:
			'What an area provides. Offerings stand in a service; its owner designs them, its home team answers for them.'
	}
};

/** Fields of a table of a kind, the most telling first; the rest shows when one is opened. */
export const shown: Record<Kind, string[]> = {
	people: ['name', 'login', 'title', 'department', 'location', 'manager', 'active'],
	teams: ['name', 'key', 'lead', 'members', 'calendar', 'upward'],
	locations: ['name', 'calendar'],
	costCentres: ['key', 'name', 'owner'],
	areas: ['name', 'owner', 'home', 'place', 'review'],
	services: ['name', 'area', 'owner', 'home', 'place'],
	belongings: [],
	offerings: []
};

/** What the organisation is told of, without what goes with it. */
export function told(o: Schema['OrganisationBody']) {
	// eslint-disable-next-line @typescript-eslint/no-unused-vars -- they are what is left out
	const { sent, calendars, signOffs, ...rest } = o;
	return rest;
}

/** A word with the article before it. */
export const a = (word: string) => `${/^[aeio]/.test(word) ? 'an' : 'a'} ${word}`;
