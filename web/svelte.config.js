import adapter from '@sveltejs/adapter-static';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		// One page for every path: the page finds its own way, and the program serves it.
		adapter: adapter({ pages: 'build', assets: 'build', fallback: 'index.html' }),
		// The program sends the policy as a header and reads the hash of the start script from here.
		csp: { mode: 'hash', directives: { 'script-src': ['self'] } }
	}
};
