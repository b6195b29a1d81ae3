import type { Schema } from '$lib/api/client';

/** What is looked at. The address holds it, so that it can be sent, kept, and gone back from. */
export type Sentence = Schema['MeasureSentence'];
export type Side = Schema['MeasureNarrowed']['side'];

const plain = ['figure', 'period', 'along', 'side', 'second'] as const;

/** Reads a sentence from an address; what is not said is as usual. */
export function read(params: URLSearchParams, usual: Sentence): Sentence {
	const s = { ...usual, only: [] as Schema['MeasureNarrowed'][] };
	for (const part of plain) {
		const value = params.get(part);
		if (value) Object.assign(s, { [part]: value });
	}
	for (const only of params.getAll('only')) {
		const cut = only.indexOf(':');
		const side = only.slice(0, cut) as Side;
		const there = s.only.find((n) => n.side === side);
		const key = only.slice(cut + 1);
		if (cut < 1) continue;
		if (there) there.keys.push(key);
		else s.only.push({ side, keys: [key] });
	}
	return s;
}

/** The address of a sentence; what is as usual is not said. */
export function address(s: Sentence, usual: Sentence, path = '/measure'): string {
	const params = new URLSearchParams();
	for (const part of plain) if (s[part] && s[part] !== usual[part]) params.set(part, s[part]);
	for (const n of s.only ?? []) for (const key of n.keys) params.append('only', `${n.side}:${key}`);
	const text = params.toString();
	return text ? `${path}?${text}` : path;
}

/** Where a part of what is seen is taken out, as csv or json. */
export function takenOut(s: Sentence, what: string, format: string): string {
	const params = new URLSearchParams({ what, format });
	for (const part of plain) params.set(part, s[part]);
	for (const n of s.only ?? []) for (const key of n.keys) params.append('only', `${n.side}:${key}`);
	return `/api/measure/export?${params}`;
}

/** The sentence with only these values of a side; without values it counts all. */
export function narrowed(s: Sentence, side: Side, keys: string[]): Sentence {
	const only = (s.only ?? []).filter((n) => n.side !== side);
	return { ...s, only: keys.length ? [...only, { side, keys }] : only };
}

/** Whether a side is a stretch of the calendar: of those a period is chosen. */
export const timely = (side: string) => ['month', 'week', 'day'].includes(side);

/** The sides that something can be told along. */
export const along = ['month', 'week', 'day', 'weekday', 'hour'];

/** What a value of a side is made up of, when it is gone into. */
const within: Partial<Record<Side, Side>> = {
	area: 'service',
	service: 'offering',
	offering: 'task',
	version: 'task',
	team: 'task',
	department: 'offering'
};
const finerThan = { month: 'week', week: 'day', day: 'hour' } as const;

/** The sentence of what is behind a bar, a cell or a point: a period, or a value of a side. */
export function into(s: Sentence, side: Side, key: string): Sentence {
	if (!timely(side)) {
		const next = within[side];
		return { ...narrowed(s, side, [key]), ...(next && s.side === side ? { side: next } : {}) };
	}
	const finer = finerThan[side as keyof typeof finerThan];
	return { ...s, period: key, along: finer, ...(s.second === side ? { second: finer } : {}) };
}

/** The desk of who measures nothing themself. */
export const usualDesk: Schema['MeasureDesk'] = {
	figures: [],
	sides: [],
	periods: [],
	usual: { figure: 'kept', period: 'last12', along: 'month', side: 'service', second: 'month' },
	zone: '',
	currency: '',
	whole: false,
	services: [],
	teams: []
};
