import type { Schema } from '$lib/api/client';

/**
 * Answers that a link to an offering brings along, by the keys of its questions,
 * and words typed in the search, for the question that takes them.
 */
export function presets(
	form: Schema['OpenedForm'],
	given: Record<string, string>,
	words: string
): Record<string, unknown> {
	const answers: Record<string, unknown> = {};
	for (const question of form.questions) {
		const text = given[question.key];
		if (question.words && words) answers[question.key] = words;
		if (text === undefined) continue;
		switch (question.kind) {
			case 'number':
				if (text.trim() && !Number.isNaN(Number(text))) answers[question.key] = Number(text);
				break;
			case 'yesNo':
				answers[question.key] = text === 'true' || text === 'yes';
				break;
			case 'choices':
				answers[question.key] = text.split(',').filter(Boolean);
				break;
			case 'items':
				answers[question.key] = text
					.split(',')
					.filter(Boolean)
					.map((item) => ({ item, quantity: 1 }));
				break;
			case 'table':
			case 'file':
			case 'computed':
			case 'statement':
				break;
			default:
				answers[question.key] = text;
		}
	}
	return answers;
}
