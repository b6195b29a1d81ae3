<!-- Puts what is looked at on a board: one's own, or a new one. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import { shows } from './shows';
	import type { Sentence } from './sentence';

	type Props = { sentence: Sentence; name: string };
	let { sentence, name }: Props = $props();
	let open = $state(false);
	let board = $state('');
	let title = $state('');
	let page = $state('');
	let show = $state<Schema['MeasurePart']['show']>('along');
	let mine = $state.raw<Schema['BoardLine'][]>([]);
	const act = new Act();
	async function begin() {
		page = name;
		open = true;
		mine = (await unwrap(api.GET('/api/boards'))).entries.filter((b) => b.own);
		board = mine[0]?.id ?? '';
	}
	async function put() {
		const part = { title: page, show, sentence };
		const saved = await act.run(async () => {
			if (!board)
				return unwrap(
					api.POST('/api/boards', {
						body: { revision: 0, board: { title, parts: [part], shared: {}, mail: {} } }
					})
				);
			const path = { board };
			const now = await unwrap(api.GET('/api/boards/{board}', { params: { path } }));
			return unwrap(
				api.PUT('/api/boards/{board}', {
					params: { path },
					body: { revision: now.revision, board: { ...now.board, parts: [...now.board.parts, part] } }
				})
			);
		});
		if (!saved) return;
		open = false;
		await goto(`/measure/boards/${saved.id}`);
		void tell(`It is on ${saved.board.title} now.`);
	}
</script>

<button class="btn quiet" onclick={begin} data-do="put-on-board">Put on a board</button>
<Dialog bind:open title="Put on a board" name="put-on-board">
	<div class="fields">
		<label
			>Board
			<select class="select" bind:value={board} data-field="board">
				{#each mine as b (b.id)}<option value={b.id}>{b.title}</option>{/each}
				<option value="">a new one</option>
			</select></label
		>
		{#if !board}<label
				>What it is called <input
					class="input"
					bind:value={title}
					maxlength="120"
					data-field="board-title"
				/></label
			>{/if}
		<label
			>Heading of the page <input
				class="input"
				bind:value={page}
				maxlength="120"
				data-field="page-title"
			/></label
		>
		<label
			>What is shown
			<select class="select" bind:value={show} data-field="page-show"
				>{#each shows as [key, words] (key)}<option value={key}>{words}</option>{/each}</select
			></label
		>
	</div>
	<Trouble problem={act.problem} />
	<button class="btn do" disabled={act.running || (!board && !title.trim())} onclick={put} data-do="put"
		>Put it there</button
	>
</Dialog>

<style>
	.fields {
		display: grid;
		gap: 0.7rem;
		margin-bottom: 0.9rem;
	}
	label {
		display: grid;
		gap: 0.2rem;
	}
</style>
