<!-- What comes out of a task: typed by who does it, or read from a reply. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddLine from '../AddLine.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from '../Found.svelte';
	import { getEditor, keyFrom } from '../editor.svelte';
	type Props = {
		task: Schema['PlanTask'];
		place: string;
		/** Read from a reply instead of typed. */
		reply: boolean;
	};
	let { task, place, reply }: Props = $props();
	const editor = getEditor();
	const rules = $derived(task.key.replaceAll('-', '_'));

	function add(words: string) {
		const key = keyFrom(
			words,
			(task.outputs ?? []).map((o) => o.key),
			'value'
		);
		task.outputs = [...(task.outputs ?? []), { key, name: words, ...(reply ? { from: `/${key}` } : {}) }];
	}
	function remove(i: number) {
		const left = task.outputs?.filter((_, j) => j !== i);
		task.outputs = left?.length ? left : undefined;
	}
</script>

{#each task.outputs ?? [] as output, i (output.key)}
	<div class="row low" data-output={output.key}>
		<Field label="Name"><input class="input" bind:value={output.name} maxlength="120" /></Field>
		<Field label="Kind">
			<select
				class="select"
				value={output.kind ?? 'text'}
				onchange={(e) => {
					output.kind = e.currentTarget.value as Schema['PlanOutput']['kind'];
					if (output.kind !== 'money') output.real = undefined;
				}}
				data-field="output-kind"
			>
				<option value="text">text</option>
				<option value="number">number</option>
				<option value="money">sum of money</option>
				<option value="date">date</option>
				{#if !reply}<option value="file">file</option>{/if}
			</select>
		</Field>
		{#if reply}
			<Field label="Place in the reply"
				><input
					class="input"
					value={output.from ?? ''}
					oninput={(e) => (output.from = e.currentTarget.value || undefined)}
					placeholder="/order/number"
					maxlength="200"
				/></Field
			>
		{/if}
		{#if output.kind === 'money'}
			<label class="tick small"
				><input
					type="checkbox"
					class="checkbox"
					checked={output.real ?? false}
					onchange={(e) => (output.real = e.currentTarget.checked || undefined)}
					data-field="real"
				/> what it really cost</label
			>
		{/if}
		<label class="tick small"
			><input
				type="checkbox"
				class="checkbox"
				checked={output.free ?? false}
				onchange={(e) => (output.free = e.currentTarget.checked || undefined)}
			/> may stay empty</label
		>
		<label class="tick small"
			><input
				type="checkbox"
				class="checkbox"
				checked={output.secret ?? false}
				onchange={(e) => (output.secret = e.currentTarget.checked || undefined)}
				data-field="secret"
			/> secret</label
		>
		<button class="btn quiet small" onclick={() => editor.remove(output.name, () => remove(i))}
			>Remove<span class="sr-only">&nbsp;{output.name}</span></button
		>
		<p class="hint">
			{#if output.secret}Only whom the request is for can have it shown, for seven days; no task, text or
				history holds it.{:else if output.real}It stands beside what was expected, on the task and on the
				request. Later tasks read it as <code>outputs.{rules}.{output.key}</code>.{:else}Later tasks read it
				as <code>outputs.{rules}.{output.key}</code>.{/if}
		</p>
		<Found place="{place}/outputs/{i}" />
	</div>
{/each}
<AddLine
	label="Something else that comes out of it"
	placeholder="Account name"
	button="Add"
	field="new-output"
	onadd={add}
/>

<style>
	.row .hint {
		width: 100%;
		margin: 0;
	}
	code {
		font-family: var(--mono);
	}
</style>
