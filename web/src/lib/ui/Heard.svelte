<!-- An answer that came otherwise, such as by phone, entered by staff: the words, who and when. -->
<script lang="ts">
	import { api, asked } from '$lib/api/client';
	import { fieldTime } from '$lib/words';
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
	let dialog = $state<HTMLDialogElement>();
	let text = $state('');
	let from = $state('');
	let how = $state('phone');
	let at = $state('');
	const name = $props.id();

	function begin() {
		at = fieldTime(new Date());
		from = people[0]?.id ?? '';
		text = '';
		dialog?.showModal();
	}
	async function enter() {
		const done = await act.run(() =>
			asked(
				api.POST('/api/requests/{request}/heard', {
					params: { path: { request } },
					body: { task, text, from, how, at: new Date(at).toISOString() }
				})
			)
		);
		if (done) dialog?.close();
	}
</script>

<button type="button" class="btn plain" onclick={begin} data-do="hear">Enter their answer</button>
<dialog bind:this={dialog} aria-labelledby={name}>
	<h2 id={name}>They have answered otherwise</h2>
	<label class="stack"
		><span>What did they say? In their words.</span><textarea
			class="textarea"
			rows="3"
			bind:value={text}
			maxlength="2000"
			data-field="heard"></textarea></label
	>
	<label class="stack"
		><span>Who answered?</span><select class="select" bind:value={from} data-field="heard-from">
			{#each people as who (who.id)}<option value={who.id}>{who.name}</option>{/each}
		</select></label
	>
	<label class="stack"><span>By what?</span><input class="input" bind:value={how} maxlength="40" /></label>
	<label class="stack"
		><span>When?</span><input
			class="input"
			type="datetime-local"
			bind:value={at}
			max={fieldTime(new Date())}
		/></label
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button
			type="button"
			class="btn do"
			onclick={enter}
			disabled={act.running || !text.trim() || !at}
			data-do="enter-heard">Enter the answer</button
		>
		<button type="button" class="btn plain" onclick={() => dialog?.close()}>Not now</button>
	</div>
</dialog>
