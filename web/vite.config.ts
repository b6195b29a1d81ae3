import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { loadEnv } from 'vite';
import { defineConfig } from 'vitest/config';

export default defineConfig(({ mode }) => ({
	plugins: [tailwindcss(), sveltekit()],
	server: { proxy: { '/api': loadEnv(mode, '.', 'HEPTAD').HEPTAD_API ?? 'http://127.0.0.1:7070' } },
	test: { environment: 'jsdom', include: ['src/**/*.test.ts'], restoreMocks: true, unstubGlobals: true },
	build: {
		rolldownOptions: {
			// What most pages need comes in two files, not in forty.
			output: {
				codeSplitting: {
					groups: [
						{ name: 'all', minShareCount: 12, priority: 2 },
						{ name: 'desks', minShareCount: 4, priority: 1 }
					]
				}
			}
		}
	},
	resolve: mode === 'test' ? { conditions: ['browser'] } : {}
}));
