import type { Schema } from '$lib/api/client';

export type Kind = 'people' | 'teams' | 'locations' | 'costCentres' | 'services';

/** What a kind of record is called: all of them, and one. */
export const kinds: Record<Kind, { all: string; one: string; intro: string }> = {
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
	services: ['name', 'area', 'owner', 'home', 'place']
};

/** What the organisation is told of, without what goes with it. */
export function told(o: Schema['OrganisationBody']) {
	const { name, prefix, currency, period, calendar, zone, tax, accent, emblem, factorRoles } = o;
	return { name, prefix, currency, period, calendar, zone, tax, accent, emblem, factorRoles };
}
