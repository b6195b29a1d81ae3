<!-- Find any request: where it stands, who holds it, what holds it up; and all that is under way, by service. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import Dial from '$lib/ui/Dial.svelte';
	import { tip } from '$lib/ui/tip.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import Likely from '$lib/ui/Likely.svelte';
	import When from '$lib/ui/When.svelte';
	import More from '$lib/ui/More.svelte';
	import Rows from '$lib/ui/Rows.svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import { search } from '$lib/query';
	import { list, minutes, standing } from '$lib/words';

	let { data } = $props();
	let words = $derived(data.query.words ?? '');
	const looking = $derived(Object.keys(data.query).length > 0);
	const standings = {
		deciding: 'being decided',
		working: 'being done',
		confirming: 'waits to be confirmed',
		undoing: 'being taken back'
	} as const;
	const sum = (o: Schema['UnderWayView']) => o.standings.reduce((n, s) => n + s.count, 0);
	const most = $derived(Math.max(1, ...data.overview.map(sum)));
	/** What is looked for beside words, in words. */
	const narrowed = $derived(
		[
			data.query.standing && standings[data.query.standing],
			data.query.late && 'likely late',
			data.query.stuck && 'stuck'
		].filter((part) => part !== undefined)
	);
	const found = new Paged(
		() => data.found,
		(after) => {
			const { late, stuck, ...rest } = data.query;
			return unwrap(
				api.GET('/api/find', {
					params: { query: { ...rest, late: Boolean(late), stuck: Boolean(stuck), after } }
				})
			);
		}
	);
	/** Where one can act on a request, or see it. */
	const place = (r: Schema['FoundLine']) =>
		r.decide
			? `/decide/${r.id}/${r.decide}`
			: r.tasks[0]
				? `/deliver/${r.id}/${r.tasks[0].key}`
				: `/follow/${r.id}`;
	function look(e: SubmitEvent) {
		e.preventDefault();
		void goto(`/find${search({ words: words.trim() })}`, { keepFocus: true });
	}
</script>

<svelte:head><title>Find a request · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<h1>Find a request</h1>
	<form onsubmit={look}>
		<!-- svelte-ignore a11y_autofocus (one comes here to type) -->
		<input
			class="input"
			bind:value={words}
			aria-label="A reference, a person or words"
			placeholder="{data.session.example}, a name, or words of the title"
			maxlength="100"
			autofocus
			data-field="find-request"
		/>
		<button class="btn do">Find</button>
	</form>
	<Trouble problem={data.problem} />
	{#if looking && !data.problem}
		<p class="soft small" role="status" data-found={found.entries.length}>
			{#if narrowed.length}<strong>{list.format(narrowed)}</strong>:
			{/if}{#if found.entries.length === 0}{found.next
					? 'Looking further back …'
					: 'No request that you may see is like that.'}{:else}{found.entries.length}{found.next
					? ' and more'
					: ''} found: what is under way first, the most pressed before all.{/if}
			<a href="/find">All that is under way</a>
		</p>
	{:else if !looking}
		<p class="soft">
			You find what you asked for or follow, what your teams work on, and all of the services that are yours.
			The letter at the end of a reference tells when it was mistyped.
		</p>
	{/if}
	{#if !looking}
		<h2>Under way now</h2>
		<table class="under-way">
			<thead
				><tr
					><th scope="col">Service</th><th scope="col">By where it stands</th><th scope="col">likely late</th
					><th scope="col">stuck</th></tr
				></thead
			>
			<tbody>
				{#each data.overview as o (o.service)}
					<tr data-service={o.service}>
						<th scope="row">{o.name}</th>
						<td>
							<span class="whole" style:width="{(sum(o) / most) * 100}%">
								{#each o.standings as s (s.standing)}
									<a
										class={s.standing}
										style:flex-grow={s.count}
										href="/find{search({ service: o.service, standing: s.standing })}"
										{@attach tip(`${s.count} ${standings[s.standing]}`)}
										data-standing={s.standing}
										>{s.count}<span class="sr-only"> {standings[s.standing]}</span></a
									>
								{/each}
							</span>
						</td>
						<td class="mono"
							>{#if o.late}<a class="late" href="/find{search({ service: o.service, late: '1' })}">{o.late}</a
								>{:else}<span class="nothing">0</span>{/if}</td
						>
						<td class="mono"
							>{#if o.stuck}<a class="late" href="/find{search({ service: o.service, stuck: '1' })}"
									>{o.stuck}</a
								>{:else}<span class="nothing">0</span>{/if}</td
						>
					</tr>
				{:else}
					<tr><td colspan="4" class="soft">Nothing that you may see is under way.</td></tr>
				{/each}
			</tbody>
		</table>
		<p class="key small" aria-hidden="true">
			{#each Object.entries(standings) as [key, name] (key)}<span><i class={key}></i>{name}</span>{/each}
		</p>
	{/if}
	<ul class="found">
		<Rows entries={found.entries} key={(r) => r.id}>
			{#snippet row(request, line)}
				<li {...line}>
					<Dial stages={request.stages} yours={request.yours} closed={request.status === 'closed'} />
					<div>
						<a href={place(request)} data-result={request.reference}><strong>{request.title}</strong></a>
						<span class="soft small"
							><a class="mono" href="/follow/{request.id}">{request.reference}</a>, asked by {request.asker}</span
						>
						{#if request.decide || request.tasks.length}
							<ul class="small acts" aria-label="What waits for you">
								{#if request.decide}<li><a href="/decide/{request.id}/{request.decide}">Decide</a></li>{/if}
								{#each request.tasks as task (task.key)}<li>
										<a href="/deliver/{request.id}/{task.key}" data-task={task.key}>{task.name}</a>
									</li>{/each}
							</ul>
						{/if}
					</div>
					<div>
						<strong class="stands">{standing(request)}</strong>
						{#if request.holders.length}<span class="small"
								>with {list.format([...new Set(request.holders.map((h) => h.name))])}</span
							>{/if}
					</div>
					<div class="small">
						{#if request.heldUp}
							{request.heldUp.stuck ? 'Stuck on' : 'Waits for'}
							{request.heldUp.what}{#if request.heldUp.since}, since <When
									time={request.heldUp.since}
								/>{/if}{#if request.heldUp.open > 0}&nbsp;({minutes(request.heldUp.open)} of working time){/if}
						{:else}<span class="soft">Nothing holds it up</span>{/if}
					</div>
					<div class="small">
						{#if request.forecast}
							<Likely forecast={request.forecast} />
						{:else}<span class="soft">changed <When time={request.changedAt} /></span>{/if}
					</div>
				</li>
			{/snippet}
		</Rows>
	</ul>
	{#if found.next}<More more={found.more} />{/if}
</main>

<style>
	form {
		display: flex;
		gap: 0.75rem;
		max-width: 40rem;
		margin-block: 0.8rem;
	}
	form .input {
		flex: 1;
	}
	.found > li {
		display: grid;
		grid-template-columns: auto minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) minmax(0, 0.9fr);
		gap: 0.9rem;
		padding-block: 0.6rem;
		border-bottom: 1px solid var(--line);
		align-items: start;
	}
	.found > li > div > :is(a, strong, span:only-of-type) {
		display: block;
	}
	h2 {
		margin-block: 1.2rem 0.4rem;
	}
	.under-way {
		width: 100%;
	}
	.under-way :is(th, td) {
		text-align: left;
		padding: 0.35rem 0.75rem 0.35rem 0;
		border-bottom: 1px solid var(--line);
	}
	.under-way thead th {
		font-weight: 400;
		color: var(--ink-soft);
	}
	.under-way :is(th, td):nth-child(2) {
		width: 55%;
	}
	.whole {
		display: flex;
		gap: 2px;
	}
	.whole a {
		min-width: 1.7rem;
		padding-inline: 0.3rem;
		font: 600 0.8125rem/1.5rem var(--mono);
		text-decoration: none;
	}
	.deciding {
		border: 2px solid var(--brass);
		color: var(--ink);
	}
	.working {
		border: 2px solid var(--sound);
		background: var(--sound);
		color: var(--panel);
	}
	.confirming {
		border: 2px solid var(--kelp);
		border-style: dashed;
		color: var(--ink);
	}
	.undoing {
		border: 2px dotted var(--line-strong);
		color: var(--ink);
	}
	.key {
		display: flex;
		flex-wrap: wrap;
		gap: 0.3rem 1.2rem;
		margin-top: 0.5rem;
	}
	.key i {
		display: inline-block;
		width: 1rem;
		height: 0.7rem;
		margin-right: 0.4rem;
	}
	.stands {
		font-weight: 600;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 0 1rem;
	}
	.late {
		color: var(--buoy-text);
		font-weight: 700;
	}
	@media (max-width: 800px) {
		.found > li {
			grid-template-columns: auto minmax(0, 1fr);
		}
		.found > li > div:nth-child(n + 3) {
			grid-column: 2;
		}
	}
</style>
