<!-- Takes out what is seen: as a sheet, as JSON, or on paper. -->
<script lang="ts">
	import Menu from '$lib/ui/Menu.svelte';
	import { takenOut, type Sentence } from './sentence';

	type Props = { sentence: Sentence };
	let { sentence }: Props = $props();
	const whats = [
		['row', 'The row of figures'],
		['along', 'The figure along time'],
		['side', 'What it is made up of'],
		['grid', 'The grid'],
		['records', 'The records']
	] as const;
	const href = (what: string, format: string) => takenOut(sentence, what, format);
</script>

<Menu
	name="take-out"
	label="Take out"
	deeds={[
		...whats.map(([what, words]) => ({
			key: what,
			words: `${words}, as a sheet (CSV)`,
			run: () => location.assign(href(what, 'csv'))
		})),
		{ key: 'json', words: 'The records, as JSON', run: () => location.assign(href('records', 'json')) },
		{ key: 'print', words: 'Print', run: () => print() }
	]}
/>
