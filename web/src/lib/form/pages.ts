import type { Schema } from '$lib/api/client';
import { money } from '$lib/words';
import type { Question } from './tools';

export type Page = { name: string; keys: string[] };

/** The pages of a form, without those on which nothing is shown: each begins with a section that says so. */
export function pagesOf(sections: Schema['FormSection'][], shown: Question[]): Page[] {
	const pages: Page[] = [{ name: 'Begin', keys: [''] }];
	for (const section of sections) {
		if (section.page) pages.push({ name: section.name, keys: [] });
		pages.at(-1)?.keys.push(section.key);
	}
	const first = pages[0];
	if (first?.keys[1]) first.name = sections[0]?.name ?? first.name;
	return pages.filter((p) => shown.some((q) => p.keys.includes(q.section ?? '')));
}

/** What a form comes to, in one line, where the slip stands far below. */
export function inOneLine(result: Schema['Evaluation']): string {
	const decisions = result.decisions.length;
	return [
		result.price.lines.length && `${money(result.price.firstYear)} in the first year`,
		decisions === 0 ? 'no decision needed' : decisions === 1 ? 'one decision' : `${decisions} decisions`,
		result.promised?.fulfilment && `done within ${result.promised.fulfilment}`
	]
		.filter(Boolean)
		.join(', ');
}
