import { error } from '@sveltejs/kit';
import { sides } from '$lib/design/editor.svelte';
import type { PageLoad } from './$types';

/** Each side is loaded when it is opened. */
const forms = {
	purpose: () => import('$lib/design/PurposeSide.svelte'),
	audience: () => import('$lib/design/AudienceSide.svelte'),
	questions: () => import('$lib/design/QuestionsSide.svelte'),
	items: () => import('$lib/design/ItemsSide.svelte'),
	ladder: () => import('$lib/design/LadderSide.svelte'),
	plan: () => import('$lib/design/PlanSide.svelte'),
	promise: () => import('$lib/design/PromiseSide.svelte')
};

export const load: PageLoad = async ({ params }) => {
	const side = sides.find((s) => s.key === params.side);
	if (!side) error(404, 'An offering has seven sides, and this is none of them.');
	return { side, Form: (await forms[side.key]()).default };
};
