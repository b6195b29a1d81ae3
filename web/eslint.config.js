import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import config from './svelte.config.js';

export default ts.config(
	{ ignores: ['.svelte-kit/', 'build/', 'src/lib/api/schema.d.ts'] },
	js.configs.recommended,
	...ts.configs.recommended,
	...svelte.configs.recommended,
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'no-undef': 'off',
			'svelte/no-navigation-without-resolve': 'off',
			// need the types of the whole page, which takes five times as long; there are no stores
			'svelte/no-unused-props': 'off',
			'svelte/require-store-reactive-access': 'off'
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser, svelteConfig: config } }
	}
);
