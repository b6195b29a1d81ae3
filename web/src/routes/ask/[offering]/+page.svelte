<!-- A form: questions on the sheet, the slip beside it. What is typed is kept as it is typed. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { beforeNavigate, goto, invalidateAll } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Draft } from '$lib/form/draft.svelte';
	import ForWhom from '$lib/form/ForWhom.svelte';
	import Faults from '$lib/form/Faults.svelte';
	import Head from '$lib/form/Head.svelte';
	import Help from '$lib/form/Help.svelte';
	import { pagesOf } from '$lib/form/pages';
	import Pages from '$lib/form/Pages.svelte';
	import Patterns from '$lib/form/Patterns.svelte';
	import Questions from '$lib/form/Questions.svelte';
	import Sending from '$lib/form/Sending.svelte';
	import Slip from '$lib/form/Slip.svelte';
	import { send as sendFile, setTools } from '$lib/form/tools';
	import { list } from '$lib/words';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';

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
			const found = await unwrap(
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

	const pages = $derived(pagesOf(form.sections, shown));
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
				await unwrap(api.POST('/api/requests/{request}/answer', { params: { path: { request: id } }, body }));
				draft.forget();
				await goto(`/follow/${id}`); // before this page is read anew: the form is no more
			});
			if (act.problem?.code === 'slipChanged') await renew(before);
			return;
		}
		const sent = await act.run(() =>
			unwrap(
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
	/** Fills the form with the answers of an earlier request, which can be undone. */
	function fill(answers: Record<string, unknown>) {
		const before = draft.answers;
		for (const [key, value] of Object.entries(answers)) draft.answer(key, value);
		void tell('The form is filled: look through it.', () => {
			for (const key of Object.keys(answers)) draft.answer(key, before[key]);
		});
	}
	/** Puts what is typed on the slip, to be sent with others; what is missing is said there. */
	async function toSlip() {
		if (!(await draft.flush(true)) || !form.draft) return;
		const put = await act.run(() =>
			unwrap(api.PUT('/api/slip/{offering}', { params: { path: { offering: form.offering } } }))
		);
		if (!put) return;
		draft.forget();
		await goto('/slip', { invalidateAll: true });
	}
	/** Reads the questions of another version, and shows what is different. */
	async function renew(before: Schema['Evaluation']) {
		await invalidateAll();
		draft.load(data.form);
		await draft.flush();
		changed = { before, now: result };
	}

	beforeNavigate(() => void draft.flush());
</script>

<svelte:head><title>{form.name} · Heptad</title></svelte:head>
<svelte:window onpagehide={() => draft.leave()} />

<main id="sheet" tabindex="-1">
	<div class="sheet">
		<Head {form} />

		<Pages {pages} {here} {missingOn} onturn={turn} />
		{#if here === 0 && !form.returned}<Faults faults={data.faults.entries} />{/if}
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
			{#if here === 0 && !form.returned && draft.for.person && draft.for.person !== me}
				<Patterns offering={form.offering} whom={draft.for.person} onfill={fill} />
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

			<Sending
				{draft}
				{act}
				{open}
				{changed}
				{button}
				back={here > 0}
				next={last ? undefined : pages[here + 1]?.name}
				bind:reply
				onjump={jump}
				onback={() => turn(here - 1)}
				onslip={toSlip}
			/>
		</form>
	</div>
	<aside aria-label="Slip">
		<div class="beside">
			<Slip {result} priced={form.items.length > 0} working={draft.pending} />
			<Help articles={form.articles} opened={data.help} />
		</div>
	</aside>
</main>

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
