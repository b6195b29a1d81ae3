import { afterEach, expect, test } from 'vitest';
import { fieldTime, instantOf, inZone, useZone } from './zone';

afterEach(() => useZone(undefined));

test.each([
	['Europe/Lisbon', '2027-01-10T09:30', '2027-01-10T09:30:00.000Z'],
	['Europe/Lisbon', '2027-07-10T09:30', '2027-07-10T08:30:00.000Z'],
	['Asia/Tokyo', '2027-07-10T00:15', '2027-07-09T15:15:00.000Z'],
	['America/St_Johns', '2027-01-10T09:30', '2027-01-10T13:00:00.000Z'],
	['Pacific/Kiritimati', '2027-01-01T00:00', '2026-12-31T10:00:00.000Z']
])('in %s %s is %s', (zone, wall, instant) => {
	useZone(zone);
	expect(instantOf(wall).toISOString()).toBe(instant);
	expect(fieldTime(new Date(instant))).toBe(wall);
});

test('a time that the clocks leave out is an hour off at most, and ends', () => {
	useZone('Europe/Lisbon');
	const at = instantOf('2027-03-28T01:30').getTime();
	expect(Math.abs(at - Date.parse('2027-03-28T01:00:00Z'))).toBeLessThanOrEqual(60 * 60_000);
});

test('a format follows the zone', () => {
	const format = inZone('en-GB', { hour: '2-digit', minute: '2-digit' });
	useZone('Asia/Tokyo');
	expect(format(new Date('2027-01-10T00:00:00Z'))).toBe('09:00');
	useZone('Europe/Lisbon');
	expect(format(new Date('2027-01-10T00:00:00Z'))).toBe('00:00');
});
