<!-- An answer that came otherwise, such as by phone, entered by staff: the words, who and when. -->
<script lang="ts">
	import Field from './Field.svelte';
	import TimeField from '$lib/ui/TimeField.svelte';
	import Dialog from './Dialog.svelte';
	import { api, unwrap } from '$lib/api/client';
	import { fieldTime, instantOf } from '$lib/zone';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';

	type Props = {
		/** ID */
		request: string;
		/** Key of the task whose question it is; a decision's when left out. */
		task?: string;
		/** Who may have answered. */
		people: { id?: string; name: string }[];
	};
	let { request, task, people }: Props = $props();
	const act = new Act();
	let dialog = $state(false);
	let text = $state('');
	let from = $state('');
	let how = $state('phone');
	let at = $state('');

	function begin() {
		at = fieldTime(new Date());
		from = people[0]?.id ?? '';
		text = '';
		dialog = true;
	}
	async function enter() {
		const done = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/heard', {
					params: { path: { request } },
					body: { task, text, from, how, at: instantOf(at).toISOString() }
				})
			)
		);
		if (done) dialog = false;
	}
</script>

<button type="button" class="btn plain" onclick={begin} data-do="hear">Enter their answer</button>
<Dialog bind:open={dialog} title="They have answered otherwise">
	<Field label="What did they say? In their words."
		><textarea class="textarea" rows="3" bind:value={text} maxlength="2000" data-field="heard"
		></textarea></Field
	>
	<Field label="Who answered?"
		><select class="select" bind:value={from} data-field="heard-from">
			{#each people as who (who.id)}<option value={who.id}>{who.name}</option>{/each}
		</select></Field
	>
	<Field label="By what?"><input class="input" bind:value={how} maxlength="40" /></Field>
	<Field several label="When?">
		<TimeField value={at} max={fieldTime(new Date())} label="When?" onmoment={(value) => (at = value)} />
	</Field>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button
			type="button"
			class="btn do"
			onclick={enter}
			disabled={act.running || !text.trim() || !at}
			data-do="enter-heard">Enter the answer</button
		>
		<button type="button" class="btn plain" onclick={() => (dialog = false)}>Not now</button>
	</div>
</Dialog>
