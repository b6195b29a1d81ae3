<!-- What happens when a task is stuck: whose work it is then, for how long, and who is told. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Found from '../Found.svelte';
	import Ticks from '../Ticks.svelte';
	import { getEditor } from '../editor.svelte';
	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();
	type Rescue = Schema['PlanRescue'];

	function set(next: Rescue) {
		const rescue = { ...task.rescue, ...next };
		task.rescue = rescue.team || rescue.within || rescue.tell?.length ? rescue : undefined;
	}
	const told = [
		{ key: 'lead', name: 'the lead of that team' },
		{ key: 'home', name: 'the lead of the home team' },
		{ key: 'owner', name: 'the owner of the service' },
		{ key: 'asker', name: 'the asker' }
	];
</script>

<div class="row">
	<Field label="It is the work of then">
		<select
			class="select"
			value={task.rescue?.team ?? ''}
			onchange={(e) => set({ team: e.currentTarget.value || undefined })}
			data-field="rescue-team"
		>
			<option value="">its own team</option>
			{#each editor.materials.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
		</select>
	</Field>
	<Field label="To be going again within" hint="Working time from being stuck, such as 4h.">
		<input
			class="input"
			value={task.rescue?.within ?? ''}
			oninput={(e) => set({ within: e.currentTarget.value || undefined })}
			maxlength="20"
			data-field="rescue-within"
		/>
	</Field>
</div>
<Ticks
	label="Told of it, beside the team"
	none=""
	things={told}
	list={task.rescue?.tell}
	field="rescue-tell"
	onlist={(list) => set({ tell: list as Rescue['tell'] })}
/>
<Found place="{place}/rescue" />
