<!-- Everything that waits for the reader, each with its verb. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Dial from '$lib/ui/Dial.svelte';
	type Props = {
		yours: Schema['RequestLine'][];
		parts: Schema['PartToConfirm'][];
		decisions: Schema['DecisionLine'][];
		tasks: Schema['TaskLine'][];
		toDecide: number;
	};
	let { yours, parts, decisions, tasks, toDecide }: Props = $props();
	const verbs: Partial<Record<Schema['RequestLine']['status'], string>> = {
		draft: 'Finish and send',
		returned: 'Answer what was asked',
		waiting: 'Answer what was asked',
		delivered: 'Confirm that it is done'
	};
	/** Everything that waits for the reader, drafts last. */
	const waiting = $derived([
		...decisions.map((d) => ({
			href: `/decide/${d.request}/${d.rung}`,
			title: d.title,
			note: d.asker,
			verb: d.insteadOf ? `Decide, for ${d.insteadOf}` : 'Decide',
			stages: undefined
		})),
		...tasks.map((t) => ({
			href: `/deliver/${t.request}/${t.key}`,
			title: t.name,
			note: t.title,
			verb: t.state === 'stuck' ? 'Help it on' : 'Do your task',
			stages: undefined
		})),
		...parts.map((a) => ({
			href: '/follow',
			title: a.name,
			note: `${a.title}, for ${a.asker}`,
			verb: 'Confirm your part',
			stages: undefined
		})),
		...[...yours]
			.sort((a, b) => Number(a.status === 'draft') - Number(b.status === 'draft'))
			.map((r) => ({
				href: r.status === 'draft' ? `/ask/${r.offering}` : `/follow/${r.id}`,
				title: r.title,
				note: r.reference,
				verb: verbs[r.status] ?? 'Look at it',
				stages: r.stages
			}))
	]);
	const more = $derived(Math.max(0, toDecide - decisions.length));
</script>

{#if waiting.length}
	<section aria-labelledby="waiting">
		<h2 id="waiting">Waits for you</h2>
		<ul class="waiting">
			{#each waiting as one (one.href + one.title)}
				<li>
					<a href={one.href} data-waiting>
						{#if one.stages}<Dial stages={one.stages} yours size={30} />{:else}<span
								class="flag"
								aria-hidden="true"
							></span>{/if}
						<span
							><strong>{one.title}</strong> <span class="soft small">{one.note}</span><br /><span class="do"
								>{one.verb}</span
							></span
						>
					</a>
				</li>
			{/each}
			{#if more}<li class="more"><a href="/decide">{more} more to decide</a></li>{/if}
		</ul>
	</section>
{/if}

<style>
	.waiting {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(19rem, 1fr));
		gap: 0.5rem 2rem;
		margin-top: 0.5rem;
	}
	.waiting a {
		display: flex;
		gap: 0.6rem;
		align-items: flex-start;
		color: var(--ink);
		text-decoration: none;
		line-height: 1.3;
	}
	.waiting .do {
		color: var(--buoy-text);
	}
	.flag {
		flex: none;
		width: 4px;
		height: 1.3em;
		background: var(--buoy);
	}
	.waiting:has(:global(svg)) .flag {
		margin-left: 26px; /* as wide as the dials beside it */
	}
	.waiting .more {
		align-self: center;
	}
	.waiting .more a {
		color: var(--sound);
		text-decoration: underline;
	}
</style>
