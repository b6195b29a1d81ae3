<!-- What a form is for, and what is to be known before one fills it in. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Rich from '$lib/ui/Rich.svelte';
	import When from '$lib/ui/When.svelte';
	let { form }: { form: Schema['OpenedForm'] } = $props();
</script>

<p class="eyebrow"><a href="/ask">Ask</a> · {form.service}</p>
<div class="title">
	{#if form.picture}<img src={form.picture} alt="" />{/if}
	<div>
		<h1>{form.name}</h1>
		<p class="text">
			{form.text}{#if form.not}<span class="not">&nbsp;{form.not}</span>{/if}
		</p>
	</div>
</div>
{#if form.instructions}<div class="instructions"><Rich html={form.instructions} /></div>{/if}
{#if form.returned}
	<div class="notices" role="status" data-returned>
		<p class="eyebrow">{form.returned.by} asks, for “{form.returned.rung}”</p>
		<p>{form.returned.text}</p>
		<p class="soft small">
			Change what you like. What was decided on answers that stay is kept. <When
				time={form.returned.until}
				absolute
			/> is the last day.
		</p>
	</div>
{/if}
{#if form.notices.length}
	<div class="notices" role="status" data-notices={form.notices.length}>
		<p class="eyebrow">
			{form.draft ? 'Changed since you began this draft' : 'Changed since you asked before'}
		</p>
		<ul>
			{#each form.notices as notice, i (i)}<li>{notice}</li>{/each}
		</ul>
	</div>
{/if}

<style>
	.text {
		max-width: 60ch;
		margin-block: 0.35rem 0.75rem;
		color: var(--ink-soft);
	}
	.title {
		display: flex;
		gap: 1rem;
		align-items: flex-start;
	}
	.title img {
		width: 4.5rem;
		height: 4.5rem;
		object-fit: contain;
	}
	.not {
		color: var(--ink);
	}
	.instructions {
		border-left: 4px solid var(--sound);
		padding-left: 0.75rem;
		max-width: 62ch;
		margin-bottom: 0.5rem;
	}
	.notices {
		border-left: 4px solid var(--brass);
		background: var(--brass-wash);
		padding: 0.5rem 0.75rem;
		margin-block: 0.5rem;
	}
</style>
