<!-- The choices of a question; a column or two can be pasted from a spreadsheet. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor, keyFrom, move } from './editor.svelte';

	let { question }: { question: Schema['FormQuestion'] } = $props();
	const editor = getEditor();
	const choices = $derived(question.choices ?? []);
	let explain = $state(false);
	const explained = $derived(explain || choices.some((c) => c.text || c.group));

	/** Lines of words; after a tab an explanation, after another a group. */
	function add(words: string) {
		question.choices ??= [];
		const list = question.choices; // the kept list, not the new one that was given
		for (const line of words.split(/\r?\n/)) {
			const [label = '', text = '', group = ''] = line.split('\t').map((w) => w.trim());
			if (!label) continue;
			list.push({
				key: keyFrom(
					label,
					list.map((c) => c.key),
					'choice'
				),
				label,
				...(text ? { text } : {}),
				...(group ? { group } : {})
			});
		}
	}
	function enter(e: KeyboardEvent) {
		const field = e.currentTarget as HTMLInputElement;
		if (e.key !== 'Enter' || !field.value.trim()) return;
		e.preventDefault();
		add(field.value);
		field.value = '';
	}
	function pasted(e: ClipboardEvent) {
		const text = e.clipboardData?.getData('text') ?? '';
		if (!/[\n\t]/.test(text)) return;
		e.preventDefault();
		add(text);
	}
</script>

<fieldset>
	<legend class="caption">Choices</legend>
	<ul>
		{#each choices as choice, j (choice.key)}
			<li>
				<input class="input" bind:value={choice.label} aria-label="Choice {j + 1}" maxlength="200" />
				{#if explained}
					<input
						class="input"
						placeholder="Explained, once chosen"
						aria-label="Explanation of {choice.label}"
						value={choice.text ?? ''}
						oninput={(e) => (choice.text = e.currentTarget.value || undefined)}
					/>
					<input
						class="input group"
						placeholder="Group"
						aria-label="Group of {choice.label}"
						value={choice.group ?? ''}
						oninput={(e) => (choice.group = e.currentTarget.value || undefined)}
					/>
				{/if}
				<button class="btn quiet small" disabled={j === 0} onclick={() => move(choices, j, -1)}
					>Up<span class="sr-only"> {choice.label}</span></button
				>
				<button
					class="btn quiet small"
					onclick={() => editor.remove(choice.label, () => question.choices?.splice(j, 1))}
					>Remove<span class="sr-only"> {choice.label}</span></button
				>
			</li>
		{/each}
	</ul>
	<input
		class="input"
		placeholder="Another choice, then Enter; or paste columns from a spreadsheet"
		aria-label="Another choice"
		onkeydown={enter}
		onpaste={pasted}
		data-field="choice"
	/>
	{#if !explained && choices.length}<button class="btn quiet small" onclick={() => (explain = true)}
			>Explain the choices, or group them</button
		>{/if}
</fieldset>

<style>
	li {
		display: flex;
		gap: 0.4rem;
		padding-block: 0.15rem;
	}
	.input {
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
	.group {
		max-width: 7rem;
	}
</style>
