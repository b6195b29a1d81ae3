<!-- Things of which any can be ticked. -->
<script lang="ts">
	import { ticked } from './editor.svelte';
	type Props = {
		label: string;
		hint?: string;
		/** What it says when there is nothing to tick. */
		none: string;
		things: { key: string; name: string }[];
		list: string[] | undefined;
		/** Each tick carries its key as data of this name. */
		field: string;
		onlist: (list: string[] | undefined) => void;
	};
	let { label, hint, none, things, list, field, onlist }: Props = $props();

	/** Of more than so many only what is ticked shows, until one wants to choose. */
	const few = 40;
	let all = $state(false);
	const shown = $derived(
		all || things.length <= few ? things : things.filter((thing) => list?.includes(thing.key))
	);
</script>

<fieldset>
	<legend class="caption">{label}</legend>
	<div class="ticks">
		{#each shown as thing (thing.key)}
			<label
				><input
					type="checkbox"
					class="checkbox"
					checked={list?.includes(thing.key) ?? false}
					onchange={(e) => onlist(ticked(list, thing.key, e.currentTarget.checked))}
					{...{ [`data-${field}`]: thing.key }}
				/>
				{thing.name}</label
			>
		{:else}
			{#if things.length === 0}<span class="soft small">{none}</span>{/if}
		{/each}
		{#if shown.length < things.length}<button
				class="btn quiet"
				aria-expanded="false"
				onclick={() => (all = true)}>Choose from {things.length}</button
			>{/if}
	</div>
	{#if hint}<p class="hint">{hint}</p>{/if}
</fieldset>

<style>
	.ticks {
		display: flex;
		flex-wrap: wrap;
		gap: 0.1rem 1.1rem;
	}
	label {
		display: flex;
		gap: 0.4rem;
		align-items: center;
	}
</style>
