<!-- First offerings from the starter set: in which service, and which team does what. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	const m = $derived(data.moving);
	let open = $state('');
	let service = $state('');
	let teams = $state<Record<string, string>>({});
	const areas = ['IT', 'HR', 'Facilities'];

	/** A service of the area where it is usual, when there is one. */
	function begin(s: Schema['StarterTask']) {
		open = s.key;
		const near = m.services.find((v) => v.area.toLowerCase() === s.area.toLowerCase()) ?? m.services[0];
		service = near?.key ?? '';
		teams = {};
		act.problem = undefined;
	}
	const home = $derived(m.services.find((s) => s.key === service)?.home ?? '');
	async function take(s: Schema['StarterTask']) {
		const only = Object.fromEntries(Object.entries(teams).filter(([, team]) => team));
		const taken = await act.run(() =>
			unwrap(api.POST('/api/moving-in/offerings', { body: { starter: s.key, service, teams: only } }))
		);
		if (!taken) return;
		const owner = m.services.find((v) => v.key === service)?.owner;
		void tell(`${s.name} is offered. ${owner} is told.`);
		if (open === s.key) open = ''; // who is quick has the next one open already
	}
</script>

<svelte:head><title>First offerings · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<p class="eyebrow"><a href="/manage/move-in">Move in</a></p>
	<h1>First offerings</h1>
	<p class="soft">
		Whole and plain, to begin with. Each is published at once for the owner of its service, who changes what
		does not fit.
	</p>
	{#if !m.services.length}
		<p>
			There is no service yet. <a href="/manage/company/services">Read services first</a>: offerings stand in
			them.
		</p>
	{:else}
		{#each areas as area (area)}
			<h2>{area}</h2>
			<ul>
				{#each m.starters.filter((s) => s.area === area) as s (s.key)}
					<li data-starter={s.key}>
						<div class="line">
							<strong>{s.name}</strong>
							<span class="soft">{s.text}</span>
							{#if s.taken}<span class="taken">offered</span>
							{:else if open !== s.key}<button
									class="btn quiet"
									onclick={() => begin(s)}
									data-do="take-{s.key}">Take it<span class="sr-only">: {s.name}</span></button
								>{/if}
						</div>
						{#if open === s.key && !s.taken}
							<form
								onsubmit={(e) => {
									e.preventDefault();
									void take(s);
								}}
							>
								<Field label="In which service?"
									><select class="select" bind:value={service} data-field="service">
										{#each m.services as v (v.key)}<option value={v.key}
												>{v.name} ({v.area}, {v.owner})</option
											>{/each}
									</select></Field
								>
								{#each s.tasks as task (task.key)}
									<Field label="{task.name}: which team?"
										><select class="select" bind:value={teams[task.key]} data-field="team-{task.key}">
											<option value={undefined}
												>{m.teams.find((t) => t.key === home)?.name}, the home team</option
											>
											{#each m.teams.filter((t) => t.key !== home) as t (t.key)}<option value={t.key}
													>{t.name}</option
												>{/each}
										</select></Field
									>
								{/each}
								<div class="whole">
									<Trouble problem={act.problem} />
									<div class="buttons">
										<button class="btn do" disabled={act.running} data-do="offer">Offer it</button>
										<button type="button" class="btn plain" onclick={() => (open = '')}>Not now</button>
									</div>
								</div>
							</form>
						{/if}
					</li>
				{/each}
			</ul>
		{/each}
	{/if}
</main>

<style>
	h2 {
		margin-top: 1.25rem;
	}
	ul {
		border-top: 1px solid var(--ink);
		max-width: 60rem;
	}
	li {
		border-bottom: 1px solid var(--line);
		padding: 0.35rem 0;
	}
	.line {
		display: grid;
		grid-template-columns: 12rem minmax(0, 1fr) auto;
		gap: 0.75rem;
		align-items: baseline;
	}
	.taken {
		color: var(--kelp-text);
		font-weight: 600;
	}
	form {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(min(16rem, 100%), 1fr));
		gap: 0.75rem 1.25rem;
		padding: 0.75rem 0 0.75rem 1rem;
		border-left: 4px solid var(--sound);
		margin-block: 0.4rem;
	}
	.whole {
		grid-column: 1 / -1;
	}
	@media (max-width: 600px) {
		.line {
			grid-template-columns: 1fr;
			gap: 0.1rem;
		}
	}
</style>
