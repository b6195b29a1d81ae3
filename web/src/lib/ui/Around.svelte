<!-- Beside a task or a decision: what else there is of the same person, as far as the reader sees it. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { answerText, standing } from '$lib/words';
	let { request }: { request: string } = $props();
	let around = $state.raw<Schema['AroundView'] | undefined>();
	$effect(() => {
		const of = request;
		around = undefined;
		void unwrap(api.GET('/api/requests/{request}/around', { params: { path: { request: of } } })).then(
			(found) => of === request && (around = found),
			() => undefined // who may not see it has nothing here
		);
	});
</script>

{#if around && (around.others.length || around.things.length)}
	<div data-around>
		{#if around.others.length}
			<h2 class="fact">
				{around.person ? `Other requests of ${around.person}` : 'Other requests of theirs'}
			</h2>
			<ul>
				{#each around.others as other (other.id)}
					<li>
						<a href="/follow/{other.id}">{other.title}</a>
						<span class="soft small"
							>{standing({ status: other.status ?? 'draft', outcome: other.outcome })}</span
						>
					</li>
				{/each}
			</ul>
		{/if}
		{#if around.things.length}
			<h2 class="fact">What they have</h2>
			<ul>
				{#each around.things as thing, i (i)}
					<li>
						{thing.name}
						<span class="soft small"
							>{thing.kind}{#if thing.until}, until {answerText(thing.until)}{/if}</span
						>
					</li>
				{/each}
			</ul>
		{/if}
	</div>
{/if}

<style>
	div {
		margin-top: 1rem;
	}
	li {
		padding-block: 0.15rem;
	}
</style>
