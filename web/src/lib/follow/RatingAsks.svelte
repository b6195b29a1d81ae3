<!-- The questions that an offering asks beside how it went: one to five each, or none. -->
<script lang="ts">
	import Segments from '$lib/ui/Segments.svelte';
	import { ratingWords } from '$lib/words';
	type Props = {
		asks: string[];
		answers: Record<string, number>;
		onanswer: (question: string, stars: number) => void;
	};
	let { asks, answers, onanswer }: Props = $props();
</script>

{#each asks as question, i (question)}
	<div data-asks={i}>
		<Segments
			label={question}
			shown
			value={String(answers[question] ?? '') as '1'}
			choices={ratingWords}
			onpick={(stars) => onanswer(question, Number(stars))}
		/>
	</div>
{/each}
