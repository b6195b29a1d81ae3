<!-- The columns of a table: questions themselves. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor, keyFrom, move } from '../editor.svelte';
	import { kindName } from '../kinds';
	import QuestionParts from '../QuestionParts.svelte';

	let { question, place }: { question: Schema['FormQuestion']; place: string } = $props();
	const editor = getEditor();
	const kinds = editor.materials.kinds;
	function addColumn() {
		question.columns ??= [];
		const columns = question.columns; // the kept list, not the new one that was given
		const label = `Column ${columns.length + 1}`;
		const key = keyFrom(
			label,
			columns.map((c) => c.key),
			'column'
		);
		columns.push({ key, kind: 'text', label });
		editor.open[`${place}/columns#${key}`] = true;
	}
</script>

<div class="columns">
	<p class="caption">Columns</p>
	{#each question.columns ?? [] as inner, j (inner.key)}
		<details
			data-column={inner.key}
			open={editor.open[`${place}/columns#${inner.key}`] ?? false}
			ontoggle={(e) => (editor.open[`${place}/columns#${inner.key}`] = e.currentTarget.open)}
		>
			<summary
				><strong>{inner.label || 'Without words'}</strong>
				<span class="soft small">{kindName(kinds, inner.kind)}</span></summary
			>
			<div class="inner">
				<span>
					<button
						class="btn quiet small"
						disabled={j === 0}
						onclick={() => move(question.columns ?? [], j, -1)}>Up</button
					>
					<button
						class="btn quiet small"
						onclick={() => editor.remove(inner.label, () => question.columns?.splice(j, 1))}
						>Remove this column</button
					>
				</span>
				<QuestionParts question={inner} place="{place}/columns/{j}" column />
			</div>
		</details>
	{/each}
	<button class="btn plain" onclick={addColumn} data-do="add-column">Add a column</button>
</div>

<style>
	.columns {
		display: grid;
		gap: 0.4rem;
		justify-items: start;
	}
	.columns details {
		width: 100%;
		border-left: 3px solid var(--line-strong);
		padding-left: 0.6rem;
	}
	.inner {
		display: grid;
		gap: 0.6rem;
		padding-block: 0.4rem;
	}
</style>
