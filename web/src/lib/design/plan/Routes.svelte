<!-- Other teams that a task goes to: the first whose rule holds. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import Found from '../Found.svelte';
	import PersonField from '../PersonField.svelte';
	import Rule from '../Rule.svelte';
	import { getEditor } from '../editor.svelte';
	let { task, place }: { task: Schema['PlanTask']; place: string } = $props();
	const editor = getEditor();

	function add() {
		task.routes = [...(task.routes ?? []), { when: '', team: '' }];
	}
	function remove(i: number) {
		const left = task.routes?.filter((_, j) => j !== i);
		task.routes = left?.length ? left : undefined;
	}
</script>

{#each task.routes ?? [] as route, i (i)}
	<div class="route" data-route={i}>
		<div class="row low">
			<Field label="Goes to">
				<select class="select" bind:value={route.team} data-field="route-team">
					<option value="" disabled>choose</option>
					{#each editor.materials.teams as team (team.key)}<option value={team.key}>{team.name}</option
						>{/each}
				</select>
			</Field>
			<div class="person">
				<span class="caption">There to</span>
				<PersonField
					label="There to"
					placeholder="anyone of them"
					field="route-person"
					login={route.person}
					onlogin={(login) => (route.person = login)}
				/>
			</div>
			<button class="btn quiet small" onclick={() => editor.remove('The other team', () => remove(i))}
				>Remove<span class="sr-only">&nbsp;this other team</span></button
			>
		</div>
		<Found place="{place}/routes/{i}/team" />
		<Found place="{place}/routes/{i}/person" />
		<Rule
			begins="There"
			place="{place}/routes/{i}/when"
			value={route.when}
			onrule={(rule) => (route.when = rule)}
		/>
		<Found place="{place}/routes/{i}/when" />
	</div>
{/each}
<button class="btn quiet small" onclick={add} data-do="add-route">To another team by a rule</button>

<style>
	.route {
		border-left: 2px solid var(--line-strong);
		padding-left: 0.8rem;
		display: grid;
		gap: 0.4rem;
	}
	.btn {
		justify-self: start;
	}
</style>
