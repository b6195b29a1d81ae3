<!-- What happened to a request, what was said, and the files of those who wrote. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import AddFile from '$lib/ui/AddFile.svelte';
	import Say, { addressed } from '$lib/ui/Say.svelte';
	import When from '$lib/ui/When.svelte';

	let { request }: { request: Schema['RequestSheet'] } = $props();
	const kinds = {
		all: 'Everything',
		stage: 'Stages',
		decision: 'Decisions',
		task: 'Tasks',
		word: 'What was said',
		note: 'Notes of staff',
		belonging: 'What you have by it'
	} as const;
	let kind = $state<keyof typeof kinds>('all');
	let readers = $state('');
	const history = $derived(request.history.filter((e) => kind === 'all' || e.kind === kind).toReversed());
</script>

<section>
	<div class="bar">
		<h2>History</h2>
		<label class="small"
			>Show <select class="select" bind:value={kind}>
				{#each Object.entries(kinds) as [key, name] (key)}<option value={key}>{name}</option>{/each}
			</select></label
		>
	</div>
	{#if request.status !== 'closed' && request.whole}<Say
			request={request.id}
			tasks={request.tasks}
			bind:readers
		/>{/if}
	{#if request.allowed.includes('attach')}
		<AddFile request={request.id} {...addressed(readers)} />
	{/if}
	{#each request.files as file (file.id)}
		<p class="small">
			<a href="/api/requests/{request.id}/files/{file.id}" download={file.name}>{file.name}</a>
			<span class="soft"
				>{file.by}, <When time={file.at} />{#if file.task}, on {file.task}{/if}</span
			>
		</p>
	{/each}
	<ol class="history">
		{#each history as entry, i (i)}
			<li>
				<span class="soft small"><When time={entry.at} absolute /></span>
				<span
					>{#if entry.actor}<strong>{entry.actor}:</strong>
					{/if}{entry.sentence}{#if entry.remark}<span class="soft">. {entry.remark}</span>{/if}
					{#if entry.readers}<span class="soft small">(read by {entry.readers})</span>{/if}</span
				>
			</li>
		{/each}
	</ol>
</section>

<style>
	section {
		margin-top: 1.4rem;
	}
	.bar {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 1rem;
	}
	.bar label {
		display: flex;
		align-items: center;
		gap: 0.5rem;
	}
	.select {
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	.history strong {
		margin-right: 0.4ch;
	}
	.history li {
		display: grid;
		grid-template-columns: 9.5rem minmax(0, 1fr);
		gap: 0.75rem;
		padding: 0.3rem 0;
		border-bottom: 1px solid var(--line);
		align-items: baseline;
	}
	@media (max-width: 600px) {
		.history li {
			grid-template-columns: 1fr;
			gap: 0;
		}
	}
</style>
