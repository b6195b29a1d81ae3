<!-- The heptagon as the way round the seven sides, each edge with its findings. -->
<script lang="ts">
	import { page } from '$app/state';
	import { edges } from '$lib/ui/heptagon';
	import { getEditor, sides, type Side } from './editor.svelte';
	let { here }: { here: Side | undefined } = $props();
	const editor = getEditor();
	const paths = edges(0.08);
	const drawn = $derived(
		sides.map((side, k) => {
			const found = [
				...editor.at(`/${side.key}`),
				...(side.key === 'questions' ? editor.at('/sections') : []),
				...(side.key === 'purpose' ? editor.at('/key') : [])
			];
			return {
				...side,
				d: paths[k],
				begun: editor.begun(side.key),
				errors: found.filter((f) => f.severity === 'error').length,
				warnings: found.filter((f) => f.severity === 'warning').length
			};
		})
	);
	const good = $derived(drawn.filter((e) => e.begun && !e.errors).length);
</script>

<div class="dial">
	<svg
		viewBox="0 0 100 100"
		width="120"
		height="120"
		role="img"
		aria-label="{good} of 7 sides are begun, with nothing to mend"
	>
		{#each drawn as edge (edge.key)}
			<path
				d={edge.d}
				class:here={edge.key === here}
				class={edge.errors ? 'errors' : edge.begun ? 'good' : 'blank'}
			/>
		{/each}
		<text x="50" y="49" class="count">{good}</text>
		<text x="50" y="63" class="of">of 7 good</text>
	</svg>
</div>
<ol>
	{#each drawn as edge, i (edge.key)}
		<li>
			<a
				href="/design/{editor.document.key}/{edge.key}"
				aria-current={edge.key === here ? 'page' : undefined}
				data-side={edge.key}
			>
				<span class="mono soft">{i + 1}</span>
				<span><strong>{edge.name}</strong> <span class="soft small">{edge.note}</span></span>
				<span class="small found"
					>{#if edge.errors}<span class="problem">{edge.errors} to mend</span>{:else if edge.warnings}<span
							class="warn">{edge.warnings} to consider</span
						>{:else if !edge.begun}<span class="soft">not begun</span>{/if}</span
				>
			</a>
		</li>
	{/each}
</ol>
<ol class="beside">
	{#each [['rehearse', 'Rehearse', 'live through it'], ['cases', 'Cases', editor.document.cases?.length ? `${editor.document.cases.length} that guard it` : 'none yet'], ['replay', 'Replay', 'put the past through it'], ['foresee', 'Foresee', 'a season with it']] as const as [key, name, note] (key)}
		<li>
			<a
				href="/design/{editor.document.key}/{key}"
				aria-current={page.route.id?.endsWith(`/${key}`) ? 'page' : undefined}
				data-beside={key}
			>
				<span></span><span><strong>{name}</strong> <span class="soft small">{note}</span></span>
			</a>
		</li>
	{/each}
</ol>

<style>
	.dial {
		display: grid;
		place-items: center;
		padding: 0.5rem 0 0.75rem;
	}
	path {
		fill: none;
		stroke-width: 7;
		stroke: var(--sound);
	}
	.errors {
		stroke: var(--buoy);
		stroke-dasharray: 4 3;
	}
	.blank {
		stroke: var(--line-strong);
		stroke-width: 3;
	}
	.here {
		stroke-width: 12;
	}
	text {
		text-anchor: middle;
		fill: var(--ink);
	}
	.count {
		font: 600 24px var(--heading);
	}
	.of {
		font-size: 10px;
		fill: var(--ink-soft);
	}
	a {
		display: grid;
		grid-template-columns: 1rem minmax(0, 1fr) auto;
		gap: 0.5rem;
		padding: 0.35rem 1rem;
	}
	.beside {
		border-top: 1px solid var(--line);
		margin-top: 0.3rem;
		padding-top: 0.3rem;
	}
	.warn {
		color: var(--brass-text);
	}
</style>
