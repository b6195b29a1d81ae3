import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { loadEnv } from 'vite';
import { defineConfig } from 'vitest/config';

export default defineConfig(({ mode }) => ({
	plugins: [tailwindcss(), sveltekit()],
	server: { proxy: { '/api': loadEnv(mode, '.', 'HEPTAD').HEPTAD_API ?? 'http://127.0.0.1:7070' } },
	test: { environment: 'jsdom', include: ['src/**/*.test.ts'], restoreMocks: true, unstubGlobals: true },
	resolve: mode === 'test' ? { conditions: ['browser'] } : {}
}));
