<!-- What was asked for before for the same person, or for people beside them: it fills the form, and each answer can be changed. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import When from '$lib/ui/When.svelte';
	type Props = { offering: string; whom: string; onfill: (answers: Record<string, unknown>) => void };
	let { offering, whom, onfill }: Props = $props();
	let patterns = $state.raw<Schema['PatternView'][]>([]);
	$effect(() => {
		const [of, person] = [offering, whom];
		patterns = [];
		void unwrap(
			api.GET('/api/offerings/{offering}/patterns', {
				params: { path: { offering: of }, query: { for: person } }
			})
		).then(
			(found) => person === whom && (patterns = found.entries),
			() => undefined // there is none to take
		);
	});
</script>

{#if patterns.length}
	<div class="patterns" data-patterns={patterns.length}>
		<p class="small">Asked for before: take one as a pattern, and change what is different.</p>
		<ul>
			{#each patterns as pattern (pattern.request)}
				<li>
					<span
						>{pattern.title}
						<span class="soft small"
							>for {pattern.for}{pattern.same ? '' : ', of the same place'}, <When
								time={pattern.sent}
							/></span
						></span
					>
					<button
						type="button"
						class="btn quiet small"
						onclick={() => onfill(pattern.answers)}
						data-do="take-pattern">Take it as a pattern</button
					>
				</li>
			{/each}
		</ul>
	</div>
{/if}

<style>
	.patterns {
		border-left: 4px solid var(--sound);
		padding: 0.4rem 0.75rem;
		margin-bottom: 1rem;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.25rem 1rem;
	}
</style>
