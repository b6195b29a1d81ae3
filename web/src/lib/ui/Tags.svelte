<!-- Short words, each a tag. What is typed counts at once, before it has become one. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { TagsInput } from '@skeletonlabs/skeleton-svelte';
	import { split } from '$lib/words';
	type Props = {
		label: string;
		hint?: string;
		field?: string;
		value: string[] | undefined;
		/** The words that are left; nothing when there is none. */
		onlist: (list: string[] | undefined) => void;
	};
	let { label, hint, field, value, onlist }: Props = $props();

	let tags = $state.raw<string[]>([]);
	let typed = $state('');
	/** What was stored of the tags and the text as they stand. */
	let known: string | undefined;
	$effect.pre(() => {
		const stored = (value ?? []).join('\n');
		untrack(() => {
			if (stored !== known) [tags, typed, known] = [value ?? [], '', stored];
		});
	});
	/** Commas are taken out here: Skeleton does so a frame later, and what is typed meanwhile is lost. */
	const never = /(?!)/;
	function type(text: string) {
		const parts = text.split(',');
		typed = (parts.pop() ?? '').trimStart();
		tags = [...new Set([...tags, ...split(parts.join())])];
		keep();
	}
	function keep() {
		const all = [...new Set([...tags, ...split(typed)])];
		onlist(all.length ? all : undefined);
		known = (value ?? []).join('\n');
	}
</script>

<div class="tags" data-words={[...tags, ...split(typed)].join(', ')}>
	<TagsInput
		value={[...tags]}
		inputValue={typed}
		delimiter={never}
		editable={false}
		addOnPaste
		blurBehavior="add"
		onValueChange={(now) => {
			tags = [...new Set(now.value.flatMap((words) => split(words)))];
			keep();
		}}
		onInputValueChange={(now) => type(now.inputValue)}
	>
		<TagsInput.Label class="caption">{label}</TagsInput.Label>
		<TagsInput.Control class="tags-field">
			{#each tags as tag, index (tag)}
				<TagsInput.Item {index} value={tag}>
					<TagsInput.ItemPreview class="tag">
						<TagsInput.ItemText>{tag}</TagsInput.ItemText>
						<TagsInput.ItemDeleteTrigger aria-label="Take out {tag}">×</TagsInput.ItemDeleteTrigger>
					</TagsInput.ItemPreview>
				</TagsInput.Item>
			{/each}
			<TagsInput.Input class="tags-input" data-field={field} />
		</TagsInput.Control>
	</TagsInput>
	{#if hint}<p class="hint">{hint}</p>{/if}
</div>

<style>
	.tags {
		display: grid;
		gap: 0.2rem;
	}
</style>
