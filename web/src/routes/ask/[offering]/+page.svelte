<!-- A form: questions on the sheet, the slip beside it. What is typed is kept as it is typed. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, goto, invalidateAll } from '$app/navigation';
	import { api, asked } from '$lib/api/client';
	import { Draft } from '$lib/draft.svelte';
	import { list } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import QuestionField from '$lib/ui/QuestionField.svelte';
	import Slip from '$lib/ui/Slip.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const begin = () => new Draft(data.form, data.session.person?.id ?? '');
	let draft = $state.raw(untrack(begin));
	$effect.pre(() => {
		if (data.form.offering !== untrack(() => draft.form.offering)) draft = begin();
	});
	let tried = $state(false);
	let left = $state<Record<string, boolean>>({});
	let discarding = $state<HTMLDialogElement>();

	const form = $derived(draft.form);
	const result = $derived(form.result);
	const results = $derived(new Map(result.questions.map((q) => [q.key, q])));
	const shown = $derived(form.questions.filter((q) => results.get(q.key)?.shown));
	const problemsOf = (key: string) => (results.get(key)?.problems ?? []).map((p) => p.sentence);
	const open = $derived(
		shown.flatMap((q) => problemsOf(q.key).map((sentence) => ({ key: q.key, sentence })))
	);
	const button = $derived.by(() => {
		const people = result.decisions[0]?.people;
		return people?.length ? `Send to ${list.format(people.map((p) => p.name))}` : 'Send';
	});

	function jump(key: string) {
		const question = document.getElementById(`q-${key}`);
		question?.scrollIntoView({ block: 'center' });
		question?.querySelector<HTMLElement>('input, textarea, select')?.focus({ preventScroll: true });
	}

	async function send() {
		tried = true;
		if (!(await draft.flush())) return;
		if (!result.complete) {
			const first = open[0];
			if (first) jump(first.key);
			return;
		}
		const id = form.draft;
		if (!id) return;
		const sent = await act.run(() =>
			asked(
				api.POST('/api/requests/{request}/submit', {
					params: { path: { request: id } },
					body: { answers: draft.answers, version: form.version }
				})
			)
		);
		if (sent) {
			draft.forget();
			await goto(`/follow/${sent.id}?sent`);
		} else if (act.problem?.code === 'offeringChanged') {
			draft.load(data.form);
		}
	}

	async function discard() {
		discarding?.close();
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
		<h1>{form.name}</h1>
		<p class="text">{form.text}</p>

		<form
			onsubmit={(e) => {
				e.preventDefault();
				void send();
			}}
			novalidate
		>
			{#each shown as question (question.key)}
				{@const answered = results.get(question.key)}
				{#if answered}
					<QuestionField
						{question}
						result={answered}
						items={form.items}
						currency={form.currency}
						value={draft.answers[question.key]}
						problems={(tried || left[question.key]) && !draft.pending ? problemsOf(question.key) : []}
						onanswer={(value) => draft.answer(question.key, value)}
						onleave={() => {
							left[question.key] = true;
							void draft.flush();
						}}
					/>
				{/if}
			{/each}

			<div class="send">
				{#if open.length > 0}
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
				<Trouble problem={act.problem ?? draft.problem} />
				<div class="buttons">
					<button class="btn do" disabled={act.running}>{button}</button>
					<span class="soft small" role="status">
						{#if draft.problem}Not saved yet, but kept in this browser.{:else if draft.pending}Saving …{:else if form.savedAt}Draft
							saved <When time={form.savedAt} />{:else}What you type is saved as a draft.{/if}
					</span>
					{#if form.draft}<button
							type="button"
							class="btn quiet discard"
							onclick={() => discarding?.showModal()}>Discard draft</button
						>{/if}
				</div>
			</div>
		</form>
	</div>
	<aside aria-label="Slip"><Slip {result} working={draft.pending} /></aside>
</main>

<dialog bind:this={discarding} aria-labelledby="discard-title">
	<h2 id="discard-title">Discard what you typed?</h2>
	<p>The answers to “{form.name}” are gone for good.</p>
	<div class="buttons">
		<button class="btn do" onclick={discard}>Discard</button>
		<button class="btn plain" onclick={() => discarding?.close()}>Keep</button>
	</div>
</dialog>

<style>
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
	aside > :global(*) {
		position: sticky;
		top: 4.5rem;
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
	.buttons {
		display: flex;
		gap: 0.9rem;
		align-items: center;
		flex-wrap: wrap;
	}
	.discard {
		margin-left: auto;
		font-weight: 400;
		font-size: 0.875rem;
	}
	dialog p {
		margin-block: 0.5rem 1rem;
	}
	@media (max-width: 900px) {
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
