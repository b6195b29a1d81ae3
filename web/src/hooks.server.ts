import type { Handle } from '@sveltejs/kit';

/** What each page draws with is asked for with the page itself: text and headings. */
const fonts = /(hyperlegible-next-latin-wght|grotesque-latin-600).*\.woff2$/;

/** Runs while the page is built, and never on a server. */
export const handle: Handle = ({ event, resolve }) =>
	resolve(event, { preload: ({ type, path }) => type === 'js' || type === 'css' || fonts.test(path) });
