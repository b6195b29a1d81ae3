import type { Schema } from '$lib/api/client';

/** What a page of a board can show, in words. */
export const shows: [Schema['MeasurePart']['show'], string][] = [
	['figures', 'the figures in a row'],
	['along', 'the figure along time'],
	['side', 'what it is made up of'],
	['grid', 'the grid of two sides'],
	['stages', 'how many stand where, and since when']
];

/** How often a board is sent, as rules of RFC 5545. */
export const rhythms: [string, string][] = [
	['', 'never'],
	['FREQ=DAILY', 'every working day'],
	['FREQ=WEEKLY;BYDAY=MO', 'on the first working day of the week'],
	['FREQ=MONTHLY;BYMONTHDAY=1', 'on the first working day of the month'],
	['FREQ=YEARLY;BYMONTH=1,4,7,10;BYMONTHDAY=1', 'on the first working day of the quarter']
];

/** What a page of a board is called. */
export const heading = (page: { title: string; show: Schema['MeasurePart']['show'] } | undefined) =>
	page?.title || shows.find(([key]) => key === page?.show)?.[1] || '';
