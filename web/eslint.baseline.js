// Checks that the built page uses nothing that Firefox or Safari lack (Baseline, widely available).
import compat from 'eslint-plugin-compat';

export default [
	{
		files: ['build/_app/**/*.js'],
		...compat.configs['flat/recommended'],
		linterOptions: { reportUnusedDisableDirectives: 'off' },
		languageOptions: { ecmaVersion: 2024, sourceType: 'module' },
		settings: {
			browsers: ['baseline widely available'],
			// libraries ask for these only where they are
			polyfills: ['navigator.userAgentData', 'navigator.connection']
		}
	}
];
