import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, loadEnv } from 'vite';

export default defineConfig(({ mode }) => ({
	plugins: [tailwindcss(), sveltekit()],
	server: { proxy: { '/api': loadEnv(mode, '.', 'HEPTAD').HEPTAD_API ?? 'http://127.0.0.1:7070' } }
}));
