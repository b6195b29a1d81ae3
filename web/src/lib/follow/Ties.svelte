<!-- How a request belongs to others: what it waits for, is the same as, comes from; and who else has it. -->
<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import { standing } from '$lib/words';

	type Props = { request: string; ties: Schema['TiesView'] };
	let { request, ties }: Props = $props();
	type Kind = Schema['TieView']['kind'];
	const act = new Act();
	const says: Record<Kind, [there: string, back: string]> = {
		waitsFor: ['It waits for', 'waits for it'],
		sameAs: ['It is the same as', 'is the same'],
		comesFrom: ['It comes from', 'comes from it']
	};
	let kind = $state<Kind>('sameAs');
	let reference = $state('');
	let sentence = $state('');
	const path = $derived({ path: { request } });
	/** Looked up once somebody wants to see them. */
	let found = $state.raw<Schema['SuggestedView'] | undefined>();
	const look = async () =>
		(found ??= await unwrap(api.GET('/api/requests/{request}/suggested', { params: path })));
	const suggested = $derived([
		...(found?.same ?? []).map((line) => ({ line, why: 'of the same person' })),
		...(found?.like ?? []).map((line) => ({ line, why: 'like words' }))
	]);

	async function tie() {
		const done = await act.run(() =>
			unwrap(api.POST('/api/requests/{request}/ties', { params: path, body: { kind, reference } }))
		);
		if (!done) return;
		reference = '';
		await invalidateAll();
	}
	async function untie(t: Schema['TieView']) {
		const other = t.back ? request : t.id;
		const done = await act.run(() =>
			unwrap(
				api.DELETE('/api/requests/{request}/ties/{kind}/{other}', {
					params: { path: { request: t.holder, kind: t.kind, other } }
				})
			)
		);
		if (!done) return;
		await invalidateAll();
		void tell('Taken off.', () => {
			[kind, reference] = [t.kind, t.reference];
			if (!t.back) void tie();
		});
	}
	async function openTo(words: string) {
		const done = await act.run(() =>
			unwrap(api.PUT('/api/requests/{request}/fault', { params: path, body: { sentence: words } }))
		);
		if (done) await invalidateAll();
	}
</script>

{#if ties.ties.length || ties.may}
	<section data-ties>
		<h2>What belongs together</h2>
		<ul>
			{#each ties.ties as t (t.holder + t.kind + t.id)}
				<li data-tie={t.kind}>
					<span>
						{#if !t.back}{says[t.kind][0]}{/if}
						{#if t.seen}<a href="/follow/{t.id}"><span class="mono">{t.reference}</span> {t.title}</a
							>{:else}<span class="mono">{t.reference}</span>{/if}
						{#if t.back}{says[t.kind][1]}{/if}
						{#if t.status}<span class="soft small"
								>({standing({ status: t.status, outcome: t.outcome })})</span
							>{/if}
					</span>
					{#if ties.may}<button class="btn quiet small" onclick={() => untie(t)} disabled={act.running}
							>Take off</button
						>{/if}
				</li>
			{:else}
				<li class="soft">It stands alone.</li>
			{/each}
		</ul>
		{#if ties.touches && ties.touches > 1}
			<p data-touches={ties.touches}>{ties.touches} people have this, as far as is known.</p>
		{/if}
		<Trouble problem={act.problem} />
		{#if ties.may}
			<form
				class="tie"
				onsubmit={(e) => {
					e.preventDefault();
					void tie();
				}}
			>
				<Field label="It">
					<select class="select" bind:value={kind} data-field="tie-kind">
						<option value="sameAs">is the same as</option>
						<option value="waitsFor">waits for</option>
						<option value="comesFrom">comes from</option>
					</select>
				</Field>
				<Field label="Reference of the other">
					<input class="input" bind:value={reference} maxlength="30" data-field="tie-reference" />
				</Field>
				<button class="btn plain" disabled={!reference.trim() || act.running} data-do="tie">Tie them</button>
			</form>
			<details class="small" ontoggle={(e) => e.currentTarget.open && void look()} data-suggest>
				<summary>Which it may belong to</summary>
				<ul>
					{#each suggested as { line, why } (line.id)}
						<li data-suggested={line.reference}>
							<span
								><a href="/follow/{line.id}"><span class="mono">{line.reference}</span> {line.title}</a>
								<span class="soft">{why}</span></span
							>
							<button class="btn quiet small" onclick={() => (reference = line.reference)}>Take it</button>
						</li>
					{:else}
						<li class="soft">{found ? 'None is alike.' : 'Looking …'}</li>
					{/each}
				</ul>
			</details>
		{/if}
		{#if ties.opens}
			<details class="small" open={Boolean(ties.fault)} data-others>
				<summary>Others have this, too</summary>
				{#if ties.fault}
					<p>Who asks for this offering reads: <q data-fault>{ties.fault}</q></p>
					<button class="btn quiet" onclick={() => openTo('')} disabled={act.running} data-do="close-fault"
						>Nobody can join any more</button
					>
				{:else}
					<form
						onsubmit={(e) => {
							e.preventDefault();
							void openTo(sentence);
						}}
					>
						<Field
							label="What others read who may join"
							hint="One sentence, without names: they see it, how it ends, and nothing else."
						>
							<input class="input" bind:value={sentence} maxlength="200" data-field="fault" />
						</Field>
						<button class="btn plain" disabled={!sentence.trim() || act.running} data-do="open-fault"
							>Let others join</button
						>
					</form>
				{/if}
			</details>
		{/if}
	</section>
{/if}

<style>
	section {
		margin-top: 1.4rem;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.25rem 1rem;
		padding-block: 0.3rem;
		border-bottom: 1px solid var(--line);
	}
	.tie {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		align-items: end;
		margin-block: 0.6rem;
	}
	details {
		margin-top: 0.6rem;
	}
	details form {
		display: grid;
		gap: 0.5rem;
		justify-items: start;
		padding: 0.5rem 0 0 1rem;
	}
</style>
