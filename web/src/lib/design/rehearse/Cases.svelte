<!-- The cases of a draft, run: what is other than expected, in words, and saying that it is right so. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import Coverage from './Coverage.svelte';
	import { getEditor } from '../editor.svelte';
	const editor = getEditor();
	const act = new Act();

	type Tried = Schema['RehearseTried'];
	let tried = $state.raw<Tried[] | undefined>();
	let right = $state<Record<string, boolean>>({});
	let today = $state<Record<number, Tried | undefined>>({});
	const cases = $derived(editor.document.cases ?? []);
	const path = $derived({ offering: editor.document.key });
	const failed = $derived((tried ?? []).filter((t) => !t.passed).length);

	$effect(() => {
		void editor.opened.revision;
		void run();
	});
	async function run() {
		const out = await unwrap(api.GET('/api/design/{offering}/cases', { params: { path } })).catch(
			() => undefined
		);
		tried = out?.entries;
	}
	async function takeRight(i: number, places: string[]) {
		const out = await unwrap(
			api.POST('/api/design/{offering}/cases/{case}/right', {
				params: { path: { ...path, case: i } },
				body: { places }
			})
		);
		const one = editor.document.cases?.[i];
		if (!one) return;
		editor.apart();
		one.expect = out.expect;
		right = {};
		await editor.save();
	}
	async function supply(i: number) {
		const out = await unwrap(
			api.POST('/api/design/{offering}/cases/{case}/supply', { params: { path: { ...path, case: i } } })
		);
		const one = editor.document.cases?.[i];
		if (!one) return;
		editor.apart();
		one.script = out.script;
		await editor.save();
	}
	async function onToday(i: number) {
		today = {
			...today,
			[i]: await unwrap(
				api.GET('/api/design/{offering}/cases/{case}/today', { params: { path: { ...path, case: i } } })
			)
		};
	}
	const chosen = (i: number, t: Tried) =>
		t.different.filter((d) => right[`${i}${d.place}`]).map((d) => d.place);
</script>

{#if cases.length === 0}
	<p class="soft" data-no-cases>
		No case is kept yet. <a href="/design/{editor.document.key}/rehearse?part=keep">Rehearse it</a>, and keep
		what you see: from then on it is run before every publishing.
	</p>
{:else}
	<p role="status" data-failed={tried ? failed : undefined}>
		{#if !tried}Running {cases.length} cases …{:else if failed}<strong class="problem"
				>{failed} of {cases.length} fail: it cannot be published like this.</strong
			>{:else}<strong class="good">All {cases.length} hold.</strong>{/if}
	</p>
	<Trouble problem={act.problem} />
	{#each cases as one, i (one.name)}
		{@const t = tried?.[i]}
		<section data-case={one.name} data-passed={t?.passed}>
			<h2>
				<span aria-hidden="true">{t ? (t.passed ? '✓' : '✕') : '·'}</span>
				{one.name}
				<span class="small soft">{t ? (t.passed ? 'holds' : 'fails') : ''}</span>
			</h2>
			{#if t?.trouble}
				<p class="problem">{t.trouble}</p>
				<button
					class="btn plain small"
					disabled={act.running}
					onclick={() => void act.run(() => supply(i))}
					data-do="supply">Add what it does not carry, from today's company</button
				>
			{/if}
			{#if t && t.different.length}
				<table>
					<thead
						><tr
							><th scope="col">What is other</th><th scope="col">Expected</th><th scope="col">Is now</th><th
								scope="col">Right so</th
							></tr
						></thead
					>
					<tbody>
						{#each t.different as d (d.place)}<tr>
								<td>{d.sentence}</td>
								<td class="small">{d.expected}</td>
								<td class="small">{d.is}</td>
								<td
									><input
										type="checkbox"
										class="checkbox"
										disabled={d.place.startsWith('/script')}
										bind:checked={
											() => right[`${i}${d.place}`] ?? false, (on) => (right[`${i}${d.place}`] = on)
										}
										aria-label="This is right now: {d.sentence}"
									/></td
								>
							</tr>{/each}
					</tbody>
				</table>
				<button
					class="btn plain small"
					disabled={chosen(i, t).length === 0 || act.running}
					onclick={() => void act.run(() => takeRight(i, chosen(i, t)))}
					data-do="right">What is ticked is right now</button
				>
			{/if}
			<p class="acts">
				<button class="btn quiet small" onclick={() => void onToday(i)}>Try it on today's company</button>
				<button
					class="btn quiet small"
					data-do="remove-case"
					onclick={() =>
						editor.remove(one.name, () => {
							editor.document.cases = cases.filter((_, j) => j !== i);
						})}>Remove</button
				>
			</p>
			{#if today[i]}
				<p class="small" data-today>
					{#if today[i]?.passed}On today's company it holds as well.{:else}On today's company, as a hint only:{/if}
					{today[i]?.trouble ?? ''}
				</p>
				<ul>
					{#each today[i]?.different ?? [] as d (d.place)}<li class="small">{d.sentence}</li>{/each}
				</ul>
			{/if}
		</section>
	{/each}
{/if}
<Coverage />

<style>
	section {
		border-top: 1px solid var(--line-strong);
		padding: 0.5rem 0;
	}
	.good {
		color: var(--kelp-text);
	}
	table {
		width: 100%;
		border-collapse: collapse;
	}
	th,
	td {
		text-align: left;
		padding: 0.2rem 0.6rem 0.2rem 0;
		vertical-align: top;
		border-bottom: 1px solid var(--line);
		overflow-wrap: anywhere;
	}
	.acts {
		display: flex;
		gap: 0.5rem;
	}
</style>
