import type { Schema } from '$lib/api/client';
import { inZone } from '$lib/zone';

/** How times, sums and states read. The page computes nothing of the job. */

/** Words, dates, times and numbers of the page come from this one locale, of the page's language; times in 24 hours. */
export const locale = 'en-GB';

const clock = inZone(locale, {
	weekday: 'short',
	day: 'numeric',
	month: 'short',
	hour: '2-digit',
	minute: '2-digit',
	hourCycle: 'h23'
});
const exactly = inZone(locale, { dateStyle: 'full', timeStyle: 'long', hourCycle: 'h23' });
const day = new Intl.DateTimeFormat(locale, {
	weekday: 'long',
	day: 'numeric',
	month: 'long',
	year: 'numeric',
	timeZone: 'UTC'
});
const ago = new Intl.RelativeTimeFormat(locale, { numeric: 'auto' });

export const at = (time: string) => clock(new Date(time));
export const exact = (time: string) => exactly(new Date(time));

const languages = new Intl.DisplayNames(locale, { type: 'language' });

/** A language, BCP 47, in words. */
export function languageName(tag: string): string {
	try {
		return languages.of(tag) ?? tag;
	} catch {
		return tag; // it is none
	}
}

/** A label before what was answered: with a colon, unless it is a question. */
export const before = (label: string) => (label.endsWith('?') ? label : `${label}:`);

/** "3 hours ago", "in 2 days". */
export function relative(time: string): string {
	const seconds = (new Date(time).getTime() - Date.now()) / 1000;
	const size = Math.abs(seconds);
	if (size < 60) return seconds < 0 ? 'just now' : 'in a moment';
	if (size < 3600) return ago.format(Math.round(seconds / 60), 'minute');
	if (size < 86400) return ago.format(Math.round(seconds / 3600), 'hour');
	return ago.format(Math.round(seconds / 86400), 'day');
}

/** A date, written YYYY-MM-DD, in words. */
export const date = (text: string) => day.format(new Date(`${text}T00:00:00Z`));

const brief = new Intl.DateTimeFormat(locale, {
	day: 'numeric',
	month: 'short',
	year: 'numeric',
	timeZone: 'UTC'
});

/** A date, written YYYY-MM-DD, as a field shows it: 20 Mar 2027. */
export const shortDate = (text: string) => brief.format(new Date(`${text}T00:00:00Z`));

const months = Array.from({ length: 12 }, (_, i) =>
	new Intl.DateTimeFormat(locale, { month: 'long', timeZone: 'UTC' })
		.format(Date.UTC(2027, i, 1))
		.toLowerCase()
);

/** The date in what people type, YYYY-MM-DD: 20 Mar 2027, 20.3.2027, 20/3/27, 2027-03-20; nothing for none. */
export function readDate(text: string): string | undefined {
	const parts = text
		.toLowerCase()
		.split(/[\s.,/-]+/)
		.filter(Boolean);
	if (parts.length !== 3) return undefined;
	const number = (part: string | undefined) => (/^\d+$/.test(part ?? '') ? Number(part) : NaN);
	const named = parts.findIndex((p) => /^\p{L}{3,}$/u.test(p));
	let [day, month, year] = [number(parts[0]), number(parts[1]), number(parts[2])];
	if (named === 0 || named === 1) {
		const begins = months.filter((m) => m.startsWith(parts[named] ?? ''));
		month = begins.length === 1 ? months.indexOf(begins[0] ?? '') + 1 : NaN;
		day = number(parts[1 - named]);
	} else if (parts[0]?.length === 4) [year, day] = [day, year];
	if (year < 100) year += 2000;
	const date = new Date(Date.UTC(year, month - 1, day));
	const right =
		date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
	return right && year >= 1900 && year <= 2199 ? date.toISOString().slice(0, 10) : undefined;
}

/** The time of day in what people type, HH:MM: 8:30, 08.30, 0830; nothing for none. */
export function readTime(text: string): string | undefined {
	const [, hour = '', minute = ''] = /^(\d{1,2})(?:[:.h]?(\d{2}))?$/.exec(text.trim()) ?? [];
	const right = hour !== '' && Number(hour) < 24 && Number(minute) < 60;
	return right ? `${hour.padStart(2, '0')}:${minute || '00'}` : undefined;
}

/** An answer in words; dates are written out. */
export const answerText = (text: string) => (/^\d{4}-\d{2}-\d{2}$/.test(text) ? date(text) : text);

export function money(sum: Schema['Amount']): string {
	if (!sum.currency) return '';
	return new Intl.NumberFormat(locale, { style: 'currency', currency: sum.currency }).format(
		Number(sum.amount)
	);
}

export const isNothing = (sum: Schema['Amount']) => Number(sum.amount) === 0;

/** What the values of a rating say. */
export const ratingWords = [
	['1', '1 poor'],
	['2', '2'],
	['3', '3 fair'],
	['4', '4'],
	['5', '5 very good']
] as const;

/** What a price is of, before how often it falls due. */
export const byThe = (unit: string | undefined) => (unit ? `by the ${unit}, ` : '');

export const per = { once: 'once', month: 'a month', year: 'a year' } as const;

type Line = Schema['RequestLine'];

/** What a request is now, in a few words. */
export function standing(line: Pick<Line, 'status' | 'outcome'>): string {
	if (line.status === 'closed')
		return {
			fulfilled: 'Fulfilled',
			declined: 'Declined',
			withdrawn: 'Taken back',
			expired: 'Expired',
			cancelled: 'Cancelled'
		}[line.outcome ?? 'fulfilled'];
	return {
		draft: 'Draft',
		deciding: 'Being decided',
		returned: 'A question waits for an answer',
		delivering: 'Being done',
		waiting: 'A question waits for an answer',
		undoing: 'Being taken back',
		delivered: 'Delivered',
		closed: ''
	}[line.status];
}

export const deskNames = {
	ask: 'Ask',
	follow: 'Follow',
	decide: 'Decide',
	deliver: 'Deliver',
	design: 'Design',
	measure: 'Measure',
	manage: 'Manage'
};

export const stageNames: Record<Schema['Stage']['key'], string> = {
	drafted: 'Drafted',
	submitted: 'Submitted',
	decided: 'Decided',
	planned: 'Planned',
	delivered: 'Delivered',
	confirmed: 'Confirmed',
	closed: 'Closed'
};

export const taskStates: Record<Schema['TaskView']['state'], string> = {
	blocked: 'waits for others',
	ready: 'ready',
	taken: 'taken',
	asking: 'asks the asker',
	stuck: 'stuck',
	done: 'done',
	skipped: 'not needed',
	stopped: 'stopped',
	undone: 'taken back'
};

/** What says where a task stands. */
export type Standing = Pick<Schema['TaskView'], 'state'> &
	Partial<Pick<Schema['TaskView'], 'undo' | 'queued' | 'accepted' | 'unneeded'>>;

/** Where a task stands, in a word: what it waits for says more than its state. */
export function taskWord(task: Standing): string {
	if (task.undo) return task.undo === 'stuck' ? 'taking it back is stuck' : 'being taken back';
	if (task.queued) return `waits for a free place: ${task.queued}`;
	if (task.accepted && task.state === 'ready') return 'with the other side';
	return task.unneeded ? 'likely not needed' : taskStates[task.state];
}

/** Orders words as people expect it, numbers in them as numbers. */
export const compare = new Intl.Collator(locale, { numeric: true, sensitivity: 'base' }).compare;

export const list = new Intl.ListFormat(locale, { type: 'conjunction' });

/** A stretch of working time: "3 h 20 min"; a working day is not assumed to have so many hours. */
export function minutes(n: number): string {
	const hours = Math.floor(n / 60);
	if (hours >= 20) return `${hours} h`;
	return [hours > 0 ? `${hours} h` : '', n % 60 > 0 || hours === 0 ? `${n % 60} min` : '']
		.filter(Boolean)
		.join(' ');
}

/** Slack as a signed stretch of working time. */
export const slack = (n: number) => (n < 0 ? `−${minutes(-n)}` : `+${minutes(n)}`);

/** The words of a text between separators, without those that are empty. */
export const split = (text: string, separator = ',') =>
	text
		.split(separator)
		.map((part) => part.trim())
		.filter(Boolean);
