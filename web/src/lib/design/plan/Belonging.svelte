<!-- What somebody has, has differently, or has no more once the task is done. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import Field from '$lib/ui/Field.svelte';
	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	type Does = Schema['PlanBelonging']['does'];
	const belonging = $derived(task.belonging);
	const kinds = ['account', 'badge', 'berth', 'device', 'licence', 'uniform'];

	function choose(does: string) {
		if (!does) task.belonging = undefined;
		else task.belonging = { ...task.belonging, does: does as Does };
	}
	type TextField = 'which' | 'name' | 'detail' | 'until';
	function set(field: TextField, text: string) {
		if (!task.belonging) return;
		if (text) task.belonging[field] = text;
		else delete task.belonging[field];
	}
</script>

{#snippet text(field: TextField, label: string, hint?: string)}
	<div>
		<Cel
			titled
			{label}
			place="{place}/belonging/{field}"
			value={belonging?.[field] ?? ''}
			text={field !== 'until'}
			rows={1}
			field="belonging-{field}"
			onrule={(value) => set(field, value)}
		/>
		{#if hint}<p class="hint">{hint}</p>{/if}
	</div>
{/snippet}

<Field label="Once it is done, who it is for">
	<select
		class="select"
		value={belonging?.does ?? ''}
		onchange={(e) => choose(e.currentTarget.value)}
		data-field="belonging"
	>
		<option value="">has nothing more and nothing less</option>
		<option value="make">has something new</option>
		<option value="change">has something in another way</option>
		<option value="end">has something no more</option>
	</select>
</Field>
{#if belonging}
	{#if belonging.does === 'make'}
		<Field label="What kind of thing it is">
			<input
				class="input short"
				list="kinds-of-things"
				value={belonging.kind ?? ''}
				oninput={(e) => (belonging.kind = e.currentTarget.value || undefined)}
				maxlength="60"
				data-field="belonging-kind"
			/>
		</Field>
		<datalist id="kinds-of-things"
			>{#each kinds as kind (kind)}<option value={kind}></option>{/each}</datalist
		>
	{:else}
		{@render text('which', 'Which of their things', 'Such as {{ answers.badge.id }} or {{ each.id }}.')}
	{/if}
	{#if belonging.does !== 'end'}
		{@render text('name', belonging.does === 'make' ? 'Its name' : 'Its name from then on; empty: as before')}
		{@render text('detail', 'What there is to say about it')}
		{@render text('until', 'The last day on which they have it', 'A date in CEL. Empty: without end.')}
	{/if}
{/if}

<style>
	.select {
		max-width: 22rem;
	}
	.short {
		max-width: 14rem;
	}
</style>
