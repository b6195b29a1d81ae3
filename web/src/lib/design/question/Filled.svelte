<!-- What a question is filled in with beforehand, and whether that can be changed. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import Rule from '../Rule.svelte';
	type Props = { question: Schema['FormQuestion']; place: string; column: boolean };
	let { question, place, column }: Props = $props();
</script>

<details class="more" open={Boolean(question.preset || question.lock || question.present)}>
	<summary class="caption">Filled in beforehand</summary>
	<Cel
		label="Filled in with"
		place="{place}/preset"
		value={question.preset ?? ''}
		field="preset"
		onrule={(rule) => (question.preset = rule || undefined)}
	/>
	{#if !column}
		<Cel
			titled
			label="How it is now"
			place="{place}/present"
			value={question.present ?? ''}
			text
			rows={1}
			field="present"
			onrule={(text) => (question.present = text || undefined)}
		/>
		<p class="hint">Stands beside what is wanted, on the form, for those who decide and for teams.</p>
	{/if}
	<Rule
		begins="The asker cannot change it"
		without="never: it can always be changed"
		always="ever"
		place="{place}/lock"
		value={question.lock}
		onrule={(rule) => (question.lock = rule || undefined)}
	/>
</details>
