import type { Schema } from '$lib/api/client';
import { locale } from '$lib/words';

/** How measured numbers read. */
export type Figure = Schema['FigureView'];
export type Value = Schema['MeasureValue'];

const whole = new Intl.NumberFormat(locale, { maximumFractionDigits: 0 });
const one = new Intl.NumberFormat(locale, { maximumFractionDigits: 1 });
const percent = new Intl.NumberFormat(locale, { style: 'percent', maximumFractionDigits: 1 });
const short = new Intl.NumberFormat(locale, { notation: 'compact', maximumFractionDigits: 1 });

export const count = (n: number) => whole.format(n);

/** A length of open time, in seconds: minutes below two hours, else hours. */
function open(seconds: number): string {
	if (seconds < 7200) return `${whole.format(seconds / 60)} min`;
	return `${seconds < 360_000 ? one.format(seconds / 3600) : whole.format(seconds / 3600)} h`;
}

/** A length of the clock, in seconds. */
function clock(seconds: number): string {
	if (seconds < 7200) return `${whole.format(seconds / 60)} min`;
	if (seconds < 172_800) return `${one.format(seconds / 3600)} h`;
	return `${one.format(seconds / 86_400)} days`;
}

/** Minor units of a currency, as the unit itself. */
export function money(minor: number, currency: string, compact = false): string {
	const format = new Intl.NumberFormat(locale, {
		style: 'currency',
		currency: currency || 'XXX',
		currencyDisplay: 'code',
		...(compact ? { notation: 'compact', maximumFractionDigits: 1 } : { maximumFractionDigits: 0 })
	});
	return format.format(minor / minors(currency));
}

/** How many minor units make the unit of a currency. */
export function minors(currency: string): number {
	const format = new Intl.NumberFormat(locale, { style: 'currency', currency: currency || 'XXX' });
	return 10 ** (format.resolvedOptions().maximumFractionDigits ?? 2);
}

/** A number in the unit of its figure. */
export function number(n: number, unit: Figure['unit'], currency: string): string {
	switch (unit) {
		case 'share':
			return percent.format(n);
		case 'clock':
			return clock(n);
		case 'open':
			return open(n);
		case 'money':
			return money(n, currency);
		case 'stars':
			return one.format(n);
		case 'count':
			return whole.format(n);
	}
}

/** The same where there is little room, such as on an axis. */
export function tick(n: number, unit: Figure['unit'], currency: string): string {
	if (unit === 'money') return money(n, currency, true);
	if (unit === 'count') return short.format(n);
	return number(n, unit, currency);
}

const whole0 = new Intl.NumberFormat(locale, { style: 'percent', maximumFractionDigits: 0 });

/** The same in a cell of a grid. */
export function brief(v: Value, figure: Figure, currency: string): string {
	if (v.few || v.number === undefined) return v.few ? '…' : '·';
	if (figure.unit === 'share') return whole0.format(v.number);
	return tick(v.number, figure.unit, currency);
}

/** What a figure comes to; "none" of nothing, never 0 %. */
export function told(v: Value, figure: Figure, currency: string): string {
	if (v.few) return 'too few to show';
	if (v.number === undefined) return 'none';
	return number(v.number, figure.unit, currency);
}

/** How a value stands to that of before: the change in words, and whether it is for the better. */
export function change(now: Value, before: Value, figure: Figure, currency: string) {
	if (now.number === undefined || before.number === undefined || now.few || before.few) return undefined;
	const by = now.number - before.number;
	const size = Math.abs(by);
	const words =
		figure.unit === 'share' ? `${one.format(size * 100)} points` : number(size, figure.unit, currency);
	const same = words === (figure.unit === 'share' ? '0 points' : number(0, figure.unit, currency));
	const up = by > 0;
	return {
		words: same ? 'as before' : `${up ? 'up' : 'down'} ${words}`,
		sign: same ? '=' : up ? '↑' : '↓',
		good: same || figure.good === 'neither' ? undefined : up === (figure.good === 'high')
	};
}

const monthOf = new Intl.DateTimeFormat(locale, { month: 'short', timeZone: 'UTC' });
const dayOf = new Intl.DateTimeFormat(locale, { day: 'numeric', month: 'short', timeZone: 'UTC' });
const weekday = new Intl.DateTimeFormat(locale, { weekday: 'short', timeZone: 'UTC' });

/** What a value of a side is called where there is little room; its year where it begins. */
export function shortly(side: string, key: string, name: string): string {
	switch (side) {
		case 'month': {
			const month = monthOf.format(new Date(`${key}-01T00:00:00Z`));
			return key.endsWith('-01') ? `${month} ${key.slice(2, 4)}` : month;
		}
		case 'week':
			return `wk ${Number(key.slice(6))}`;
		case 'day':
			return dayOf.format(new Date(`${key}T00:00:00Z`));
		case 'weekday':
			return weekday.format(Date.UTC(2027, 2, Number(key))); // 1 March 2027 is a Monday
		case 'hour':
			return `${key}:00`;
	}
	return name;
}

const longMonth = new Intl.DateTimeFormat(locale, { month: 'long', year: 'numeric', timeZone: 'UTC' });
const longDay = new Intl.DateTimeFormat(locale, { dateStyle: 'long', timeZone: 'UTC' });
const longWeekday = new Intl.DateTimeFormat(locale, { weekday: 'long', timeZone: 'UTC' });

/** The same in full. */
export function fully(side: string, key: string, name: string): string {
	switch (side) {
		case 'month':
			return longMonth.format(new Date(`${key}-01T00:00:00Z`));
		case 'week':
			return `week ${Number(key.slice(6))} of ${key.slice(0, 4)}`;
		case 'day':
			return longDay.format(new Date(`${key}T00:00:00Z`));
		case 'weekday':
			return longWeekday.format(Date.UTC(2027, 2, Number(key)));
		case 'hour':
			return `from ${key}:00`;
	}
	return name;
}

/** By which date a figure counts, in words. */
export const counted: Record<Figure['date'], string> = {
	sent: 'by the day they were sent',
	delivered: 'by the day they were delivered',
	closed: 'by the day they were closed',
	due: 'by the day they were due',
	ended: 'by the day they ended',
	atEnd: 'as they stood when the time ended, or stand now',
	looked: 'by the day it was looked for',
	begun: 'by the day they were begun'
};

/** How a target stands, in words and as a sign. */
export const standings = {
	well: 'well',
	early: 'will be missed',
	missed: 'missed',
	open: 'nothing to count yet'
} as const;
export const signs = { well: '✓', early: '!', missed: '✗', open: '·' } as const;
