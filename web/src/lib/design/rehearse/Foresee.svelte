<!-- A season simulated: what the draft would do to the teams and the promises, beside how it goes without it. -->
<script lang="ts">
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { getEditor } from '../editor.svelte';
	import Days from './Days.svelte';
	import Foreseen from './Foreseen.svelte';
	import StudyList from './StudyList.svelte';
	import { Studies } from './studies.svelte';
	import WhatIf from './WhatIf.svelte';
	const editor = getEditor();
	const act = new Act();
	const path = $derived({ offering: editor.document.key });
	const studies = new Studies(
		() => unwrap(api.GET('/api/design/{offering}/foresights', { params: { path } })),
		(study) =>
			unwrap(api.GET('/api/design/{offering}/foresights/{study}', { params: { path: { ...path, study } } }))
	);

	/** The first and the last day of the next quarter of a year. */
	const quarter = (() => {
		const now = new Date();
		const first = new Date(Date.UTC(now.getUTCFullYear(), Math.floor(now.getUTCMonth() / 3) * 3 + 3, 1));
		const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 3, 0));
		return [first, last].map((d) => d.toISOString().slice(0, 10)) as [string, string];
	})();
	let from = $state(quarter[0]);
	let until = $state(quarter[1]);
	let more = $state(0);
	let others = $state(0);
	let changes = $state<Schema['ForeseeLevers']>({});
	const whole = $derived(studies.whole);

	async function begin() {
		await editor.save();
		const demand = [
			{ offering: editor.document.key, percent: Number(more) || 0 },
			{ percent: Number(others) || 0 }
		];
		const out = await unwrap(
			api.POST('/api/design/{offering}/foresights', {
				params: { path },
				body: { from, until, demand, changes }
			})
		);
		await studies.begun(out.id);
	}
</script>

<form
	onsubmit={(e) => {
		e.preventDefault();
		void act.run(begin);
	}}
>
	<p class="line">
		<Days bind:from bind:until word="From" first="First day" last="Last day" />
		<label
			>this is asked for <input
				type="number"
				class="input"
				min="-90"
				max="400"
				bind:value={more}
				data-field="more"
			/> % more than a year before,</label
		>
		<label
			>all else <input
				type="number"
				class="input"
				min="-90"
				max="400"
				bind:value={others}
				data-field="others"
			/> %.</label
		>
	</p>
	<WhatIf bind:changes />
	<button class="btn do" disabled={act.running} data-do="foresee">Look ahead</button>
</form>
<Trouble problem={act.problem} />
<StudyList {studies} />
{#if whole?.result}
	<Foreseen result={whole.result} asked={whole.asked} />
{:else if studies.all && !studies.all.length}
	<p class="soft">
		What was asked for a year before comes again, and the people of the teams do it one after the other, in
		their hours. You see who would be late when, and which promises would be kept, with this draft and without
		it.
	</p>
{/if}

<style>
	form {
		display: grid;
		gap: 0.6rem;
		margin-top: 0.7rem;
		justify-items: start;
	}
	.line {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.5rem 0.8rem;
		margin: 0;
	}
	.line label {
		display: inline-flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 0.4rem;
	}
	input {
		width: 4.5rem;
	}
</style>
