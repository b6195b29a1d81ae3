<!-- Choices within an item, such as its size; each may add to the price. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor, keyFrom } from '../editor.svelte';
	import { keysOf, text } from './fields';
	let { item }: { item: Schema['PriceItem'] } = $props();
	const editor = getEditor();
	function addOption(e: KeyboardEvent, group: Schema['PriceOptionGroup']) {
		const field = e.currentTarget as HTMLInputElement;
		if (e.key !== 'Enter' || !field.value.trim()) return;
		e.preventDefault();
		group.choices.push({
			key: keyFrom(field.value, keysOf(group.choices), 'option'),
			name: field.value.trim()
		});
		field.value = '';
	}
</script>

{#each item.options ?? [] as group, g (group.key)}
	<fieldset class="nested">
		<legend class="caption">A choice within it</legend>
		<div class="inline">
			<input class="input" bind:value={group.name} aria-label="What is chosen" />
			<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={group.require ?? false}
					onchange={(e) => (group.require = e.currentTarget.checked || undefined)}
				/> needed</label
			>
			<button
				class="btn quiet small"
				onclick={() => editor.remove(group.name, () => item.options?.splice(g, 1))}>Remove</button
			>
		</div>
		{#each group.choices as option, o (option.key)}
			<div class="inline">
				<input class="input" bind:value={option.name} aria-label="Choice {o + 1} of {group.name}" />
				<input
					class="input mono narrow"
					placeholder="adds"
					aria-label="{option.name} adds to the price"
					value={option.amount ?? ''}
					oninput={(e) => (option.amount = text(e))}
				/>
				<button class="btn quiet small" onclick={() => group.choices.splice(o, 1)}
					>Remove<span class="sr-only"> {option.name}</span></button
				>
			</div>
		{/each}
		<input
			class="input"
			placeholder="Another choice, then Enter"
			aria-label="Another choice of {group.name}"
			onkeydown={(e) => addOption(e, group)}
		/>
	</fieldset>
{/each}
