<!-- A form: questions on the sheet, the slip beside it. What is typed is kept as it is typed. -->
<script lang="ts">
	import Dialog from '$lib/ui/Dialog.svelte';
	import { untrack } from 'svelte';
	import { beforeNavigate, goto, invalidateAll } from '$app/navigation';
	import { api, asked, type Schema } from '$lib/api/client';
	import { Draft } from '$lib/form/draft.svelte';
	import ForWhom from '$lib/form/ForWhom.svelte';
	import Questions from '$lib/form/Questions.svelte';
	import Slip from '$lib/form/Slip.svelte';
	import { send as sendFile, setTools } from '$lib/form/tools';
	import { list, money } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const me = $derived(data.session.person?.id ?? '');
	const begin = () =>
		new Draft(
			data.form,
			untrack(() => me)
		);
	let draft = $state.raw(untrack(begin));
	$effect.pre(() => {
		if (data.form.offering !== untrack(() => draft.form.offering)) draft = begin();
	});
	setTools({
		lookUp: async (question, words) => {
			await draft.flush();
			const found = await asked(
				api.GET('/api/offerings/{offering}/people', {
					params: { path: { offering: draft.form.offering }, query: { question, words } }
				})
			);
			return found.entries;
		},
		upload: (question, file, progress) => sendFile(draft.place, question, file, progress)
	});
	let tried = $state(false);
	let left = $state<Record<string, boolean>>({});
	let discarding = $state(false);
	let changed = $state.raw<{ before: Schema['Evaluation']; now: Schema['Evaluation'] } | undefined>();
	let at = $state(0);

	const form = $derived(draft.form);
	const result = $derived(form.result);
	const results = $derived(new Map(result.questions.map((q) => [q.key, q])));
	const shown = $derived(form.questions.filter((q) => results.get(q.key)?.shown));
	const open = $derived([
		...(result.trouble ? [{ key: 'for', sentence: result.trouble }] : []),
		...shown.flatMap((q) =>
			(results.get(q.key)?.problems ?? []).map((p) => ({ key: q.key, sentence: p.sentence }))
		)
	]);

	/** The pages: each begins with a section that says so. */
	const pages = $derived.by(() => {
		const pages: { name: string; keys: string[] }[] = [{ name: 'Begin', keys: [''] }];
		for (const section of form.sections) {
			if (section.page) pages.push({ name: section.name, keys: [] });
			pages.at(-1)?.keys.push(section.key);
		}
		const first = pages[0];
		if (first?.keys[1]) first.name = form.sections[0]?.name ?? first.name;
		return pages.filter((p) => shown.some((q) => p.keys.includes(q.section ?? '')));
	});
	const here = $derived(Math.min(at, Math.max(0, pages.length - 1)));
	const page = $derived(pages[here]);
	const last = $derived(here >= pages.length - 1);
	const pageOf = (key: string) => {
		const section = form.questions.find((q) => q.key === key)?.section ?? '';
		return Math.max(
			0,
			pages.findIndex((p) => p.keys.includes(section))
		);
	};
	const missingOn = (n: number) => open.filter((o) => o.key !== 'for' && pageOf(o.key) === n).length;

	/** What it comes to, in one line, where the slip stands far below. */
	const running = $derived.by(() => {
		const decisions = result.decisions.length;
		return [
			result.price.lines.length && `${money(result.price.firstYear)} in the first year`,
			decisions === 0 ? 'no decision needed' : decisions === 1 ? 'one decision' : `${decisions} decisions`,
			result.promised?.fulfilment && `done within ${result.promised.fulfilment}`
		]
			.filter(Boolean)
			.join(', ');
	});
	/** What is said to a question that was asked back. */
	let reply = $state('');
	const button = $derived.by(() => {
		if (form.returned) return `Answer ${form.returned.by}`;
		const people = result.decisions[0]?.people;
		return people?.length ? `Send to ${list.format(people.map((p) => p.standIn ?? p.name))}` : 'Send';
	});

	const typed = new Set(['text', 'longText', 'number', 'money', 'table']);
	const kindOf = (key: string) => form.questions.find((q) => q.key === key)?.kind ?? '';
	function turn(to: number) {
		at = to;
		document.getElementById('sheet')?.focus();
		window.scrollTo({ top: 0 });
	}
	function jump(key: string) {
		if (key !== 'for') at = pageOf(key);
		requestAnimationFrame(() => {
			const question = document.querySelector(key === 'for' ? '[data-for]' : `[data-question="${key}"]`);
			question?.scrollIntoView({ block: 'center' });
			question
				?.querySelector<HTMLElement>('[aria-invalid="true"], input, textarea, select')
				?.focus({ preventScroll: true });
		});
	}

	async function send() {
		tried = true;
		const before = result;
		if (!(await draft.flush(true))) return;
		if (draft.outdated) {
			await renew(before);
			return;
		}
		if (!result.complete || result.trouble) {
			const first = open[0];
			if (first) jump(first.key);
			return;
		}
		const id = form.draft;
		if (!id) return;
		if (form.returned) {
			const body = { answers: draft.answers, reply, slip: result.slip };
			await act.run(async () => {
				await asked(api.POST('/api/requests/{request}/answer', { params: { path: { request: id } }, body }));
				draft.forget();
				await goto(`/follow/${id}`); // before this page is read anew: the form is no more
			});
			if (act.problem?.code === 'slipChanged') await renew(before);
			return;
		}
		const sent = await act.run(() =>
			asked(
				api.POST('/api/requests/{request}/submit', {
					params: { path: { request: id } },
					body: { answers: draft.answers, for: draft.for, slip: result.slip, words: data.words }
				})
			)
		);
		if (sent || act.problem?.code === 'alreadySent') {
			draft.forget();
			await goto(`/follow/${id}?sent`);
		} else if (act.problem?.code === 'slipChanged') {
			await renew(before);
		}
	}
	/** Reads the questions of another version, and shows what is different. */
	async function renew(before: Schema['Evaluation']) {
		await invalidateAll();
		draft.load(data.form);
		await draft.flush();
		changed = { before, now: result };
	}

	async function discard() {
		discarding = false;
		const id = form.draft;
		draft.forget();
		if (id)
			await act.run(() =>
				asked(api.POST('/api/requests/{request}/discard', { params: { path: { request: id } } }))
			);
		await goto('/ask');
		await invalidateAll();
	}

	beforeNavigate(() => void draft.flush());
</script>

<svelte:head><title>{form.name} · Heptad</title></svelte:head>
<svelte:window onpagehide={() => draft.leave()} />

<main id="sheet" tabindex="-1">
	<div class="sheet">
		<p class="eyebrow"><a href="/ask">Ask</a> · {form.service}</p>
		<div class="title">
			{#if form.picture}<img src={form.picture} alt="" />{/if}
			<div>
				<h1>{form.name}</h1>
				<p class="text">
					{form.text}{#if form.not}<span class="not">&nbsp;{form.not}</span>{/if}
				</p>
			</div>
		</div>
		{#if form.instructions}<p class="instructions">{form.instructions}</p>{/if}
		{#if form.returned}
			<div class="notices" role="status" data-returned>
				<p class="eyebrow">{form.returned.by} asks, for “{form.returned.rung}”</p>
				<p>{form.returned.text}</p>
				<p class="soft small">
					Change what you like. What was decided on answers that stay is kept. <When
						time={form.returned.until}
						absolute
					/> is the last day.
				</p>
			</div>
		{/if}
		{#if form.notices.length}
			<div class="notices" role="status" data-notices={form.notices.length}>
				<p class="eyebrow">
					{form.draft ? 'Changed since you began this draft' : 'Changed since you asked before'}
				</p>
				<ul>
					{#each form.notices as notice, i (i)}<li>{notice}</li>{/each}
				</ul>
			</div>
		{/if}

		{#if pages.length > 1}
			<nav aria-label="Pages of the form">
				<ol class="pages">
					{#each pages as one, n (n)}
						<li>
							<button
								type="button"
								class="turn"
								aria-current={n === here ? 'step' : undefined}
								onclick={() => turn(n)}
							>
								<span class="mono">{n + 1}</span>
								{one.name}{#if missingOn(n)}<span class="soft small"> {missingOn(n)} missing</span>{/if}
							</button>
						</li>
					{/each}
				</ol>
			</nav>
		{/if}
		<form
			onsubmit={(e) => {
				e.preventDefault();
				if (last) void send();
				else turn(here + 1);
			}}
			novalidate
		>
			{#if here === 0 && !form.returned && (form.forOthers || form.newcomers)}
				<ForWhom
					{form}
					{me}
					value={draft.for}
					trouble={tried || draft.for.other || (draft.for.person && draft.for.person !== me)
						? result.trouble
						: undefined}
					onchange={(whom) => draft.isFor(whom)}
				/>
			{/if}
			<Questions
				sections={form.sections}
				questions={form.questions.filter((q) => page?.keys.includes(q.section ?? ''))}
				{results}
				answers={draft.answers}
				head={form}
				{left}
				all={tried && !draft.pending}
				onanswer={(key, value) => draft.answer(key, value, typed.has(kindOf(key)))}
				onleave={(key) => {
					left[key] = true;
					void draft.flush();
				}}
			/>

			<div class="send">
				{#if last && open.length > 0}
					<div class="missing" data-missing={open.length}>
						<p class="eyebrow">
							{open.length === 1
								? 'One thing is missing before you can send'
								: `${open.length} things are missing before you can send`}
						</p>
						<ul>
							{#each open as problem, i (i)}
								<li>
									<button type="button" class="btn quiet" onclick={() => jump(problem.key)}
										>{problem.sentence}</button
									>
								</li>
							{/each}
						</ul>
					</div>
				{/if}
				{#if changed}
					<div class="changed" role="alert" data-changed>
						<p>
							<strong>This has changed while you were writing.</strong> Look at the slip, and send again if you
							agree.
						</p>
						<p>
							First year: <s>{changed.before.price.firstYear.amount}</s>
							<strong>{changed.now.price.firstYear.amount} {changed.now.price.firstYear.currency}</strong>.
							Decisions: {changed.now.decisions.length ||
								'none'}{#if changed.before.decisions.length !== changed.now.decisions.length}<span
									>&nbsp;instead of</span
								>
								{changed.before.decisions.length || 'none'}{/if}.
						</p>
					</div>
				{:else}
					<Trouble problem={act.problem ?? draft.problem} />
				{/if}
				{#if form.returned && last}
					<label class="reply"
						><span>Your answer to {form.returned.by}</span>
						<textarea class="textarea" rows="2" bind:value={reply} maxlength="2000" data-field="reply"
						></textarea>
					</label>
				{/if}
				{#if !result.trouble}
					<p class="total" data-running-total>{running}</p>
				{/if}
				<div class="buttons">
					{#if here > 0}<button type="button" class="btn plain" onclick={() => turn(here - 1)}>Back</button
						>{/if}
					{#if last}
						<button class="btn do" disabled={act.running}>{button}</button>
					{:else}
						<button class="btn do">Next: {pages[here + 1]?.name}</button>
					{/if}
					<span class="soft small" role="status">
						{#if draft.problem}Not saved yet, but kept in this browser.{:else if draft.pending}Saving …{:else if form.savedAt}Draft
							saved <When time={form.savedAt} />{:else}What you type is saved as a draft.{/if}
					</span>
					{#if form.draft && !form.returned}<button
							type="button"
							class="btn quiet discard"
							onclick={() => (discarding = true)}>Discard draft</button
						>{/if}
				</div>
			</div>
		</form>
	</div>
	<aside aria-label="Slip">
		<div class="beside">
			<Slip {result} priced={form.items.length > 0} working={draft.pending} />
			{#if form.articles.length}
				<section class="help" aria-label="Help">
					<h2>Help</h2>
					{#each form.articles as article, i (i)}
						<details open={article.title === data.help}>
							<summary>{article.title}</summary>
							<p>{article.text}</p>
						</details>
					{/each}
				</section>
			{/if}
		</div>
	</aside>
</main>

<Dialog bind:open={discarding} title="Discard what you typed?">
	<p>The answers to “{form.name}” are gone for good.</p>
	<div class="buttons">
		<button class="btn do" onclick={discard}>Discard</button>
		<button class="btn plain" onclick={() => (discarding = false)}>Keep it</button>
	</div>
</Dialog>

<style>
	.reply {
		display: grid;
		gap: 0.2rem;
		margin-bottom: 0.6rem;
	}
	main {
		display: grid;
		grid-template-columns: minmax(0, 44rem) 20rem;
		justify-content: center;
		gap: 0 2.5rem;
		outline: none;
	}
	.sheet {
		background: var(--panel);
		padding: 1.25rem 1.75rem 2.5rem;
		min-height: calc(100vh - 3rem);
	}
	.text {
		max-width: 60ch;
		margin-block: 0.35rem 0.75rem;
		color: var(--ink-soft);
	}
	aside {
		padding-block: 1.5rem;
	}
	.beside {
		position: sticky;
		top: 4.5rem;
		max-height: calc(100vh - 5rem);
		overflow-y: auto;
	}
	.sheet {
		container-type: inline-size;
	}
	.title {
		display: flex;
		gap: 1rem;
		align-items: flex-start;
	}
	.title img {
		width: 4.5rem;
		height: 4.5rem;
		object-fit: contain;
	}
	.not {
		color: var(--ink);
	}
	.instructions {
		border-left: 4px solid var(--sound);
		padding-left: 0.75rem;
		white-space: pre-line;
		max-width: 62ch;
		margin-bottom: 0.5rem;
	}
	.notices,
	.changed {
		border-left: 4px solid var(--brass);
		background: var(--brass-wash);
		padding: 0.5rem 0.75rem;
		margin-block: 0.5rem;
	}
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
	.help {
		margin-top: 1.25rem;
		padding-inline: 1rem;
	}
	.help summary {
		color: var(--sound);
		text-decoration: underline;
		text-underline-offset: 3px;
		padding-block: 0.2rem;
	}
	.help p {
		white-space: pre-line;
		font-size: 0.875rem;
	}
	.send {
		border-top: 2px solid var(--ink);
		margin-top: 1rem;
		padding-top: 0.9rem;
		display: grid;
		gap: 0.75rem;
	}
	.missing {
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
	}
	.missing .btn {
		padding: 0.1rem 0;
		text-align: left;
		white-space: normal;
		font-weight: 400;
	}
	.discard {
		margin-left: auto;
		font-weight: 400;
		font-size: 0.875rem;
	}
	:global(.overlay) p {
		margin-block: 0.5rem 1rem;
	}
	.total {
		display: none;
	}
	@media (max-width: 900px) {
		.total {
			display: block;
		}
		main {
			grid-template-columns: minmax(0, 1fr);
		}
		.sheet {
			padding: 1rem;
			min-height: 0;
		}
		aside {
			padding: 1rem;
			order: 2;
		}
	}
</style>
