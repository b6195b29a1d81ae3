<!-- Moves the catalog from here and to here, with a preview of what would change. -->
<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	const act = new Act();
	let incoming = $state.raw<Schema['Incoming'][] | undefined>();
	let file = $state.raw<File | undefined>();
	/** Services that are new here, with who is to own them and the team that is home to them. */
	let fresh = $state<Schema['NewService'][]>([]);
	let teams = $state.raw<Schema['Named'][]>([]);
	let publish = $state(false);
	let brought = $state(false);
	async function bring(preview: boolean) {
		const from = file;
		if (!from) return;
		const got = await act.run(async () => {
			const got = await unwrap(
				api.POST('/api/catalog', {
					params: {
						query: {
							preview,
							publish,
							home: fresh.filter((s) => s.home).map((s) => `${s.key}:${s.home}`),
							owner: fresh.filter((s) => s.owner).map((s) => `${s.key}:${s.owner}`)
						}
					},
					body: from as unknown as string,
					bodySerializer: (b) => b as unknown as File,
					headers: { 'Content-Type': 'application/octet-stream' }
				})
			);
			if (got.services.length && !teams.length) teams = (await unwrap(api.GET('/api/design'))).teams;
			return got;
		});
		incoming = got?.entries;
		if (got && preview) fresh = got.services.map((s) => fresh.find((known) => known.key === s.key) ?? s);
		brought = !preview && Boolean(got);
		if (brought) await invalidateAll();
	}
	function read(e: Event) {
		const field = e.currentTarget as HTMLInputElement;
		file = field.files?.[0];
		fresh = [];
		field.value = '';
		void bring(true);
	}
	const does = { new: 'New', changed: 'Changes', same: 'The same', refused: 'Left out' } as const;
</script>

<section class="move" aria-label="Moving the catalog">
	<h2>Move the catalog</h2>
	<p class="hint">
		From a trial to here, or from here: services, shared questions and offerings in one file.
	</p>
	<p><a href="/api/catalog" download="catalog.json">Export all of yours</a></p>
	<input id="catalog-file" class="sr-only" type="file" accept=".json,.yaml,.yml" onchange={read} />
	<label class="btn plain" for="catalog-file">Import …</label>
	<Trouble problem={act.problem} />
	{#each fresh as one (one.key)}
		<fieldset data-new-service={one.key}>
			<legend class="caption">{one.area}: {one.name} is a new service</legend>
			<label
				>Its home team
				<select
					class="select"
					value={one.home ?? ''}
					onchange={(e) => {
						one.home = e.currentTarget.value;
						void bring(true);
					}}
					data-field="home"
				>
					<option value="" disabled>choose</option>
					{#each teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
				</select></label
			>
			<label for="owner-{one.key}">Its owner</label>
			<PersonPicker
				name={one.ownerName ?? ''}
				control={{ id: `owner-${one.key}`, placeholder: 'you', 'data-field': 'owner' }}
				onpick={(person) => {
					[one.owner, one.ownerName] = [person?.login, person?.name];
					void bring(true);
				}}
			/>
		</fieldset>
	{/each}
	{#if incoming}
		<ul class="incoming" data-incoming={incoming.length}>
			{#each incoming as one (one.key)}
				<li>
					<strong>{does[one.does]}:</strong>
					{one.name}
					{#if one.ends}<span class="soft">It ends, as it has where it comes from.</span>{/if}
					{#if one.draft}<span class="soft"
							>It has ended where it comes from: it comes as a draft that nobody can ask for.</span
						>{/if}
					{#if one.why}<span class="problem">{one.why}</span>{/if}
					{#if one.errors}<span class="problem">{one.errors} to mend</span>{/if}
					{#if one.changes.length}
						<details>
							<summary class="small">{one.changes.length} differences</summary>
							<ul class="small">
								{#each one.changes as change, i (i)}<li>{change.sentence}</li>{/each}
							</ul>
						</details>
					{/if}
				</li>
			{/each}
		</ul>
		{#if brought}
			<p role="status" data-brought>Brought in. What is not published yet is a draft.</p>
		{:else}
			<label class="tick"
				><input type="checkbox" class="checkbox" bind:checked={publish} /> publish what has nothing to mend or consider</label
			>
			<button class="btn do" disabled={act.running} onclick={() => void bring(false)}>Bring it in</button>
		{/if}
	{/if}
</section>

<style>
	.move {
		display: grid;
		gap: 0.75rem;
		justify-items: start;
	}
	.sr-only:focus-visible + .btn {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
	.tick {
		align-items: flex-start;
		font-size: 0.875rem;
	}
</style>
