<!-- Move in: the list of the first day, which can be left and taken up. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	const m = $derived(data.moving);
	type Step = Schema['MovingStep'];

	const steps: Record<Step['key'], { name: string; why: string; path: string; deed: string }> = {
		organisation: {
			name: 'The organisation',
			why: 'Its name, how references begin, its currency, home calendar and look.',
			path: '/manage/organisation',
			deed: 'Tell of it'
		},
		you: { name: 'You', why: 'A second factor for who can do everything here.', path: '/me', deed: 'Set it' },
		people: {
			name: 'People',
			why: 'From a spreadsheet. Mistakes are mended in a preview; nothing is done before you say so.',
			path: '/manage/company/people',
			deed: 'Read people'
		},
		teams: {
			name: 'Teams, and where people work',
			why: 'Teams do the work. Locations and cost centres stand beside them in the index.',
			path: '/manage/company/teams',
			deed: 'Read teams'
		},
		services: {
			name: 'Services',
			why: 'What IT, HR, facilities and others provide, each with its owner and home team.',
			path: '/manage/company/services',
			deed: 'Read services'
		},
		offerings: {
			name: 'First offerings',
			why: 'From the starter set; you say which team does what. Each owner is told.',
			path: '/manage/move-in/offerings',
			deed: 'Choose some'
		},
		mail: {
			name: 'Mail',
			why: 'A message to yourself shows whether it works.',
			path: '',
			deed: 'Send me one'
		},
		request: {
			name: 'A first request',
			why: 'Sent as a trial, like anybody would.',
			path: '/ask',
			deed: 'Ask for something'
		}
	};
	const done = $derived(m.steps.filter((s) => s.done).length);
	const next = $derived(m.steps.find((s) => !s.done)?.key);

	async function tryMail() {
		const sent = await act.run(() => unwrap(api.POST('/api/moving-in/mail')));
		if (sent) void tell(`A message is on its way to ${m.address}.`);
	}
	async function end() {
		const ended = await act.run(() => unwrap(api.POST('/api/moving-in/end')));
		if (!ended) return;
		void tell('Moving in has ended. Owners publish what is theirs from now on.');
		await goto('/manage/organisation');
	}
</script>

<svelte:head><title>Move in · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<h1>Move in</h1>
	<p class="soft">
		{done} of {m.steps.length} done. Leave the list whenever you like; it stays here until you end it.
	</p>
	<ol>
		{#each m.steps as step, i (step.key)}
			{@const s = steps[step.key]}
			<li class:done={step.done} class:next={step.key === next} data-step={step.key} data-done={step.done}>
				<span class="number mono" aria-hidden="true">{step.done ? '✓' : i + 1}</span>
				<div>
					<h2>
						{s.name}{#if step.count > 0}<span class="soft mono count">{step.count}</span>{/if}<span
							class="sr-only">{step.done ? ', done' : ''}</span
						>
					</h2>
					<p class="soft">{s.why}</p>
					{#if step.lacks}<p class="lacks">{step.lacks}</p>{/if}
					{#if step.key === 'mail'}<Trouble problem={act.problem} />{/if}
				</div>
				{#if s.path}<a class="btn {step.key === next ? 'do' : 'plain'}" href={s.path}
						>{step.done ? 'Look at it' : s.deed}</a
					>
				{:else}<button
						class="btn {step.key === next ? 'do' : 'plain'}"
						onclick={tryMail}
						disabled={act.running || !m.mail}
						data-do="try-mail">{step.done ? 'Send another' : s.deed}</button
					>{/if}
			</li>
		{/each}
	</ol>
	<section>
		<h2>When you have moved in</h2>
		<p class="soft">
			Until you end it you may publish starter offerings for the owners, and put yourself in charge of things.
			Afterwards owners publish what is theirs, and nobody puts themself in charge.
		</p>
		<button class="btn plain" onclick={end} disabled={act.running} data-do="end-moving">End moving in</button>
	</section>
</main>

<style>
	ol {
		margin-block: 1rem 2rem;
		border-top: 2px solid var(--ink);
		max-width: 56rem;
	}
	li {
		display: grid;
		grid-template-columns: 2.2rem minmax(0, 1fr) 9.5rem;
		gap: 0.75rem;
		align-items: center;
		padding: 0.42rem 0.25rem;
		border-bottom: 1px solid var(--line);
	}
	li.next {
		background: var(--panel);
	}
	.number {
		font-size: 1.1rem;
		text-align: center;
		color: var(--ink-soft);
	}
	.done .number {
		color: var(--kelp-text);
		font-weight: 700;
	}
	.count {
		margin-left: 0.5rem;
		font-weight: 400;
	}
	.lacks {
		color: var(--brass-text);
	}
	.btn {
		text-align: center;
		justify-self: stretch;
	}
	section {
		max-width: 46rem;
		display: grid;
		gap: 0.5rem;
		justify-items: start;
	}
	@media (max-width: 600px) {
		li {
			grid-template-columns: 1.6rem minmax(0, 1fr);
		}
		li .btn {
			grid-column: 2;
			justify-self: start;
		}
	}
</style>
