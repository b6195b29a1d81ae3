<script lang="ts">
	import AudienceSide from '$lib/design/AudienceSide.svelte';
	import { getEditor } from '$lib/design/editor.svelte';
	import ItemsSide from '$lib/design/ItemsSide.svelte';
	import LadderSide from '$lib/design/LadderSide.svelte';
	import PlanSide from '$lib/design/PlanSide.svelte';
	import PromiseSide from '$lib/design/PromiseSide.svelte';
	import PurposeSide from '$lib/design/PurposeSide.svelte';
	import QuestionsSide from '$lib/design/QuestionsSide.svelte';

	let { data } = $props();
	const editor = getEditor();
	const forms = {
		purpose: PurposeSide,
		audience: AudienceSide,
		questions: QuestionsSide,
		items: ItemsSide,
		ladder: LadderSide,
		plan: PlanSide,
		promise: PromiseSide
	};
	const Form = $derived(forms[data.side.key]);
</script>

<svelte:head><title>{editor.document.purpose.name} · Design · Heptad</title></svelte:head>
<p class="eyebrow">{editor.document.purpose.name}</p>
<h1>{data.side.name} <span class="soft note">{data.side.note}</span></h1>
<div class="form">
	<Form />
</div>

<style>
	.note {
		font:
			400 1rem 'Atkinson Hyperlegible Next Variable',
			sans-serif;
	}
	.form {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 0.9rem;
		margin-top: 1rem;
		max-width: 46rem;
	}
</style>
