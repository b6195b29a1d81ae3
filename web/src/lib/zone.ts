/** The zone that times are shown and typed in: what the reader chose for themselves, else that of the browser. */

let chosen: string | undefined;
let age = 0;

/** Chooses the zone, IANA; that of the browser for none. */
export function useZone(zone: string | undefined) {
	if (zone === chosen) return;
	chosen = zone;
	age++;
}

/** A format of times in the zone that is chosen when it is used. */
export function inZone(locale: string, options: Intl.DateTimeFormatOptions) {
	let made: Intl.DateTimeFormat | undefined;
	let of = -1;
	return (at: Date) => {
		if (!made || of !== age) {
			made = new Intl.DateTimeFormat(locale, { ...options, timeZone: chosen });
			of = age;
		}
		return made.format(at);
	};
}

const wall = inZone('sv-SE', {
	year: 'numeric',
	month: '2-digit',
	day: '2-digit',
	hour: '2-digit',
	minute: '2-digit',
	hourCycle: 'h23'
});

/** An instant as a field for date and time wants it: YYYY-MM-DDTHH:MM on the reader's wall clock. */
export const fieldTime = (at: Date) => wall(at).replace(' ', 'T');

/** The instant at which the reader's wall clock shows YYYY-MM-DDTHH:MM. Of a time that the clocks leave out it is as much later. */
export function instantOf(text: string): Date {
	const wanted = Date.parse(`${text}:00Z`);
	let at = wanted;
	for (let tries = 0; tries < 3; tries++) {
		const off = Date.parse(`${fieldTime(new Date(at))}:00Z`) - wanted;
		if (off === 0) break;
		at -= off;
	}
	return new Date(at);
}
