<!-- Checks of an answer, each with what the asker reads when it fails. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Rule from '../Rule.svelte';
	let { question, place }: { question: Schema['FormQuestion']; place: string } = $props();
</script>

{#each question.check ?? [] as check, j (j)}
	<div class="check">
		<Rule
			begins="Good"
			place="{place}/check/{j}/rule"
			value={check.rule}
			onrule={(rule) => (check.rule = rule)}
		/>
		<Field label="Else the asker reads"
			><input class="input" bind:value={check.message} maxlength="300" data-field="message" /></Field
		>
		<button class="btn quiet small" onclick={() => question.check?.splice(j, 1)}>Remove this check</button>
	</div>
{/each}
<button
	class="btn quiet small add"
	data-do="add-check"
	onclick={() => (question.check = [...(question.check ?? []), { rule: '', message: '' }])}
	>Add a check</button
>

<style>
	.check {
		display: grid;
		gap: 0.5rem;
		justify-items: start;
		border-top: 1px dotted var(--line-strong);
		padding-top: 0.5rem;
	}
	.check > :global(label) {
		width: 100%;
	}
	.add {
		justify-self: start;
	}
</style>
