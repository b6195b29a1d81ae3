import { error } from '@sveltejs/kit';
import { sides } from '$lib/design/editor.svelte';
import type { PageLoad } from './$types';

export const load: PageLoad = ({ params }) => {
	const side = sides.find((s) => s.key === params.side);
	if (!side) error(404, 'An offering has seven sides, and this is none of them.');
	return { side };
};
