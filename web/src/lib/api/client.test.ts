import { afterEach, expect, test, vi } from 'vitest';
import { door, loaded, Refused, unreachable, unwrap } from './client';
import { linked } from './link';

const answer = (status: number, body: { data?: unknown; error?: unknown }) =>
	Promise.resolve({ ...body, response: new Response(null, { status }) });
const problem = (status: number, detail = 'Not so.') => ({ type: '', title: '', status, detail });
afterEach(() => vi.unstubAllGlobals());

/** What is thrown, which is no error of the tests. */
const thrown = async (deed: Promise<unknown>) =>
	deed.then(
		() => expect.unreachable('it was done'),
		(e: unknown) => e as { status?: number; location?: string; body?: { message: string } }
	);

test('what is answered is given', async () => {
	expect(await unwrap(answer(200, { data: { entries: [1] } }))).toEqual({ entries: [1] });
});

test('what is refused says why, and whether the same may work soon', async () => {
	for (const [status, away] of [
		[409, false],
		[422, false],
		[500, true],
		[503, true]
	] as const) {
		const e = (await thrown(unwrap(answer(status, { error: problem(status) })))) as unknown as Refused;
		expect(e).toBeInstanceOf(Refused);
		expect([e.problem.status, e.problem.detail, e.away]).toEqual([status, 'Not so.', away]);
	}
});

test('no answer, and one that says nothing, are told in words', async () => {
	const none = (await thrown(unwrap(Promise.reject(new TypeError('network'))))) as unknown as Refused;
	expect(none.problem).toEqual(unreachable);
	expect(none.away).toBe(true);
	const mute = (await thrown(unwrap(answer(502, { error: '<html>' })))) as unknown as Refused;
	expect(mute.problem).toEqual({ ...unreachable, status: 502 });
});

test('a page whose session has ended leads to the door, and back', async () => {
	vi.stubGlobal('location', { pathname: '/design', search: '?words=a b' });
	expect(await thrown(loaded(answer(401, { error: problem(401) })))).toMatchObject({
		status: 307,
		location: '/?back=%2Fdesign%3Fwords%3Da%20b'
	});
	vi.stubGlobal('location', { pathname: '/', search: '' });
	expect(door()).toBe('/');
});

test('a page that is not there says so', async () => {
	expect(await thrown(loaded(answer(404, { error: problem(404, 'This is not there.') })))).toMatchObject({
		status: 404,
		body: { message: 'This is not there.' }
	});
	expect(await thrown(loaded(Promise.reject(new TypeError('network'))))).toMatchObject({ status: 503 });
	const odd = new Error('a fault of the page');
	await expect(
		loaded(
			Promise.resolve({
				get response(): Response {
					throw odd;
				}
			})
		)
	).rejects.toBe(odd);
});

test('a link of a mail says what is wrong with it', async () => {
	expect(await linked(Promise.resolve(7))).toBe(7);
	const of = (status: number) => thrown(linked(Promise.reject(new Refused(problem(status, 'It is old.')))));
	expect(await of(404)).toMatchObject({
		status: 404,
		body: { message: expect.stringContaining('not whole') as string }
	});
	expect(await of(409)).toMatchObject({ status: 409, body: { message: 'It is old.' } });
	expect(await of(0)).toMatchObject({ status: 503 });
});
