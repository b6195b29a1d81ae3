<!-- What a connector is asked to do, with what is handed over. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Cel from '../Cel.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from '../Found.svelte';
	import { getEditor } from '../editor.svelte';
	import { actionType } from './kinds';
	type Action = Schema['PlanAction'];
	type Props = {
		label: string;
		place: string;
		action: Action | undefined;
		/** Keys of what is known of itself, and need not be filled in. */
		known?: string[];
		/** What stands for no action; no such choice when left out. */
		none?: string;
		field: string;
		onaction: (action: Action | undefined) => void;
	};
	let { label, place, action, known = [], none, field, onaction }: Props = $props();
	const editor = getEditor();
	const usual = editor.materials.usual;
	const chosen = $derived(actionType(editor.materials.connectors, action));
	function call(id: string) {
		const [connector = '', act = ''] = id.split(' ');
		onaction(id ? { connector, do: act, inputs: action?.inputs ?? {}, limit: action?.limit } : undefined);
	}
</script>

<Field {label}>
	<select
		class="select"
		value={action ? `${action.connector} ${action.do}` : ''}
		data-field={field}
		onchange={(e) => call(e.currentTarget.value)}
	>
		{#if none || !action}<option value="" disabled={!none}>{none ?? 'choose'}</option>{/if}
		{#each editor.materials.connectors as connector (connector.key)}
			<optgroup label={connector.name}>
				{#each connector.actions as one (one.key)}<option value="{connector.key} {one.key}"
						>{connector.name}: {one.name}</option
					>{/each}
			</optgroup>
		{/each}
	</select>
</Field>
{#each chosen?.inputs ?? [] as input (input.key)}
	<Cel
		titled
		label={input.name}
		aside={known.includes(input.key)
			? 'known from the task when left empty'
			: input.free
				? 'may stay empty'
				: undefined}
		place="{place}/inputs/{input.key}"
		value={action?.inputs?.[input.key] ?? ''}
		text
		rows={1}
		field="{field}-{input.key}"
		onrule={(text) => action && onaction({ ...action, inputs: { ...action.inputs, [input.key]: text } })}
	/>
{/each}
{#if action}
	<Field
		label="One call may take"
		hint="Such as 30s, up to {usual.callMost / 60}m. Empty: {usual.callWithin}s."
	>
		<input
			class="input limit"
			value={action.limit ?? ''}
			oninput={(e) => onaction({ ...action, limit: e.currentTarget.value || undefined })}
			maxlength="10"
			data-field="{field}-limit"
		/>
	</Field>
	<Found place="{place}/limit" />
{/if}
{#if chosen?.outputs.length}
	<p class="hint">
		Gives {chosen.outputs.map((o) => o.name).join(', ')}{chosen.later ? ', later by a report' : ''}.
	</p>
{/if}

<style>
	.limit {
		width: 7rem;
	}
	.select {
		max-width: 26rem;
	}
</style>
