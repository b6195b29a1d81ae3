<!-- One's targets, and how they stand. -->
<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import { address, type Sentence } from '$lib/measure/sentence';
	import { number, signs, standings, told } from '$lib/measure/words';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import { list } from '$lib/words';

	let { data } = $props();
	type Target = (typeof data.targets)[number];
	const act = new Act();
	const figure = (t: Target) => data.desk.figures.find((f) => f.key === t.target.figure)!;
	const link = (t: Target) =>
		address(
			{
				...data.desk.usual,
				figure: t.target.figure,
				period: t.target.period,
				only: t.target.only ?? []
			} as Sentence,
			data.desk.usual
		);
	async function drop(t: Target) {
		const gone = await act.run(async () => {
			await unwrap(api.DELETE('/api/targets/{target}', { params: { path: { target: t.id } } }));
			return true;
		});
		if (gone)
			void tell('The target is gone.', () =>
				act.run(() => unwrap(api.POST('/api/targets', { body: t.target })))
			);
	}
</script>

<svelte:head><title>Targets · Heptad</title></svelte:head>
<main id="sheet" class="wide" tabindex="-1">
	<h1>Targets</h1>
	<p class="soft">
		They are looked at once an hour. You are told once when one will be missed at the present pace, and once
		when it is, until it is well again. Set one under <a href="/measure">Figures</a>.
	</p>
	<Trouble problem={act.problem} />
	{#if data.targets.length}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex (it scrolls when it is narrow) -->
		<div class="scroll" tabindex="0" role="group" aria-label="Targets">
			<table>
				<thead
					><tr
						><th scope="col">Figure</th><th scope="col">stands</th><th scope="col">now</th><th scope="col"
							>should be</th
						><th scope="col">at this pace</th><th scope="col">told</th><td></td></tr
					></thead
				>
				<tbody>
					{#each data.targets as t (t.id)}
						{@const f = figure(t)}
						<tr data-target={t.target.figure} data-stands={t.stands}>
							<th scope="row"
								><a href={link(t)}>{f.name}</a>
								<span class="soft small"
									>in {t.period.words}{#each t.narrowed as n (n.side)}, {n.name}
										{n.keys.map((k) => k.name).join(' or ')}{/each}</span
								></th
							>
							<td class={t.stands}><span aria-hidden="true">{signs[t.stands]}</span> {standings[t.stands]}</td
							>
							<td class="mono">{told(t.now, f, data.desk.currency)}</td>
							<td class="mono"
								>{t.target.atLeast ? 'at least' : 'at most'}
								{number(t.target.goal, f.unit, data.desk.currency)}</td
							>
							<td class="mono">{t.pace === undefined ? '' : number(t.pace, f.unit, data.desk.currency)}</td>
							<td class="small">{list.format(['you', ...t.people.map((p) => p.name)])}</td>
							<td
								><button
									class="btn quiet"
									onclick={() => drop(t)}
									disabled={act.running}
									data-do="drop-target">take away</button
								></td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{:else}<p>You have set none yet.</p>{/if}
</main>

<style>
	.wide {
		gap: 0.8rem;
	}
	table {
		border-collapse: collapse;
	}
	:is(th, td) {
		text-align: left;
		font-weight: 400;
		padding: 0.35rem 1.2rem 0.35rem 0;
		border-bottom: 1px solid var(--line);
	}
	thead th {
		color: var(--ink-soft);
		font-size: 0.8125rem;
	}
	.well {
		color: var(--kelp-text);
	}
	.early {
		color: var(--brass-text);
	}
	.missed {
		color: var(--buoy-text);
		font-weight: 600;
	}
	.scroll {
		overflow-x: auto;
	}
	tbody a {
		text-decoration: underline;
	}
</style>
