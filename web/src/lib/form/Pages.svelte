<!-- The pages of a long form, with what is missing on each. -->
<script lang="ts">
	type Props = {
		pages: { name: string }[];
		here: number;
		missingOn: (page: number) => number;
		onturn: (to: number) => void;
	};
	let { pages, here, missingOn, onturn }: Props = $props();
</script>

{#if pages.length > 1}
	<nav aria-label="Pages of the form">
		<ol class="pages">
			{#each pages as one, n (n)}
				<li>
					<button
						type="button"
						class="turn"
						aria-current={n === here ? 'step' : undefined}
						onclick={() => onturn(n)}
					>
						<span class="mono">{n + 1}</span>
						{one.name}{#if missingOn(n)}<span class="soft small"> {missingOn(n)} missing</span>{/if}
					</button>
				</li>
			{/each}
		</ol>
	</nav>
{/if}

<style>
	.pages {
		display: flex;
		flex-wrap: wrap;
		gap: 0 1.5rem;
		border-bottom: 2px solid var(--ink);
		margin-top: 0.5rem;
	}
	.turn {
		padding: 0.4rem 0;
		border-bottom: 4px solid transparent;
	}
	.turn .small {
		margin-left: 0.5ch;
		font-weight: 400;
	}
	.turn[aria-current] {
		font-weight: 600;
		border-color: var(--sound);
	}
</style>
