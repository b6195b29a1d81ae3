<!-- Publishing is one step: all that is missing, each warning accepted by name, what changes, and when. -->
<script lang="ts">
	import TimeField from '$lib/ui/TimeField.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import { api, unwrap, Refused, type Problem, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import { proving } from '$lib/ui/proof.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import SecondYes from './SecondYes.svelte';
	import { at } from '$lib/words';
	import { instantOf } from '$lib/zone';
	import { getEditor, sides } from './editor.svelte';

	let { onpublished }: { onpublished: (opened: Schema['OpenedOffering']) => void } = $props();
	const editor = getEditor();
	/** Saying the second yes. */
	const second = new Act();
	let dialog = $state(false);
	let accepted = $state<Record<string, boolean>>({});
	let changes = $state.raw<Schema['OfferingChange'][] | undefined>();
	let later = $state('');
	let running = $state(false);
	let problem = $state.raw<Problem | undefined>();
	let cases = $state.raw<Schema['RehearseTried'][] | undefined>();
	const failed = $derived((cases ?? []).filter((c) => !c.passed));

	type Finding = Schema['FindingFinding'];
	const name = (f: Finding) => `${f.code} ${f.place}`;
	const of = (severity: Finding['severity']) => editor.opened.findings.filter((f) => f.severity === severity);
	const errors = $derived(of('error'));
	const warnings = $derived(of('warning'));
	const hints = $derived(of('hint'));
	const open = $derived(warnings.filter((w) => !accepted[name(w)]).length);
	const sideOf = (f: Finding) => {
		const first = f.place.split('/')[1] ?? '';
		return first === 'sections' ? 'questions' : sides.some((s) => s.key === first) ? first : 'purpose';
	};
	const path = $derived({ path: { offering: editor.document.key } });

	export async function show() {
		await editor.save();
		if (editor.problem) return;
		problem = undefined;
		later = '';
		dialog = true;
		[changes, cases] = [undefined, undefined];
		void unwrap(api.GET('/api/design/{offering}/cases', { params: path })).then(
			(out) => (cases = out.entries)
		);
		if (!editor.opened.current) return;
		const query = { from: editor.opened.current, to: editor.opened.number };
		changes = (await unwrap(api.GET('/api/design/{offering}/changes', { params: { ...path, query } })))
			.entries;
	}
	async function publish() {
		running = true;
		problem = undefined;
		try {
			const body = {
				revision: editor.opened.revision,
				accepted: warnings.filter((w) => accepted[name(w)]).map(name),
				...(later ? { at: instantOf(later).toISOString() } : {})
			};
			const opened = await proving(() =>
				unwrap(api.POST('/api/design/{offering}/publish', { params: path, body }))
			);
			dialog = false;
			onpublished(opened);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			problem = refused.problem;
		} finally {
			running = false;
		}
	}
</script>

{#if editor.opened.asked && !editor.changed}
	<SecondYes asked={editor.opened.asked} act={second} ondone={onpublished} />
{/if}
<Trouble problem={second.problem} />
<button class="btn {editor.opened.asked ? 'plain' : 'do'}" onclick={() => void show()} data-do="publish"
	>{editor.opened.second ? 'Ask to publish …' : 'Publish …'}</button
>
<p class="small" class:problem={errors.length > 0}>
	{errors.length
		? `${errors.length} to mend before`
		: warnings.length
			? `${warnings.length} to consider`
			: 'Nothing is missing.'}
</p>

<Dialog
	bind:open={dialog}
	wide
	title="Publish version {editor.opened.number} of {editor.document.purpose.name}"
>
	{#if errors.length}
		<h3>To mend before</h3>
		<ul>
			{#each errors as f, i (i)}
				<li>
					<a href="/design/{editor.document.key}/{sideOf(f)}" onclick={() => (dialog = false)}>{f.sentence}</a
					>
					<span class="soft">{f.mend ?? ''}</span>
				</li>
			{/each}
		</ul>
	{:else}
		<p class="good">Nothing needs mending.</p>
	{/if}
	{#if editor.document.cases?.length}
		<p data-cases={cases ? failed.length : undefined} class={cases && !failed.length ? 'good' : ''}>
			{#if !cases}Running {editor.document.cases.length} cases …{:else if failed.length}<strong
					class="problem">{failed.length} of {cases.length} cases fail.</strong
				>
				<a href="/design/{editor.document.key}/cases" onclick={() => (dialog = false)}>Look at them</a
				>{:else}All {cases.length} cases hold.{/if}
		</p>
		<ul>
			{#each failed as c (c.name)}<li>
					<strong>{c.name}</strong>: {c.trouble ?? c.different.map((d) => d.sentence).join(' ')}
				</li>{/each}
		</ul>
	{:else}
		<p class="small soft">
			No case guards it. <a href="/design/{editor.document.key}/rehearse" onclick={() => (dialog = false)}
				>Rehearse it first</a
			>.
		</p>
	{/if}
	{#if warnings.length}
		<h3>To consider: accept each that shall stay</h3>
		<ul>
			{#each warnings as f, i (i)}
				<li>
					<label
						><input
							type="checkbox"
							class="checkbox"
							bind:checked={() => accepted[name(f)] ?? false, (on) => (accepted[name(f)] = on)}
							data-accept={f.code}
						/>
						<span>{f.sentence} <span class="soft">{f.mend ?? ''}</span></span></label
					>
				</li>
			{/each}
		</ul>
	{/if}
	{#if hints.length}
		<details>
			<summary>{hints.length === 1 ? 'One hint' : `${hints.length} hints`}</summary>
			<ul>
				{#each hints as f, i (i)}<li class="small">
						{f.sentence} <span class="soft">{f.mend ?? ''}</span>
					</li>{/each}
			</ul>
		</details>
	{/if}
	{#if changes}
		<h3>What changes for people</h3>
		<ul class="changes" data-changes={changes.length}>
			{#each changes as change, i (i)}<li>
					<span class="soft small">{change.side}</span>
					{change.sentence}
				</li>{:else}<li class="soft">Nothing.</li>{/each}
		</ul>
		<p class="hint">Requests that run keep the version they were sent with.</p>
	{/if}
	<div class="when">
		When?
		<TimeField
			value={later}
			label="Publish at"
			control={{ 'data-field': 'later' }}
			onmoment={(value) => (later = value)}
		/>
		<span class="hint">{later ? at(instantOf(later).toISOString()) : 'Now, when left empty.'}</span>
	</div>
	<Trouble {problem} />
	<div class="buttons">
		<button
			class="btn do"
			disabled={running || errors.length > 0 || open > 0 || failed.length > 0}
			onclick={publish}
			data-do="publish-now"
			>{editor.opened.second
				? 'Ask for the second yes'
				: later
					? 'Publish at that time'
					: 'Publish now'}</button
		>
		<button class="btn plain" onclick={() => (dialog = false)}>Not yet</button>
		{#if open}<span class="small problem">{open} to accept</span>{/if}
	</div>
</Dialog>

<style>
	h3 {
		margin-top: 0.9rem;
	}
	li {
		padding-block: 0.2rem;
	}
	li label {
		display: flex;
		gap: 0.5rem;
		align-items: flex-start;
	}
	.good {
		color: var(--kelp-text);
		font-weight: 600;
		margin-top: 0.5rem;
	}
	.when {
		display: flex;
		gap: 0.6rem;
		align-items: center;
		margin-block: 0.9rem 0.5rem;
	}
	.when :global(.input) {
		width: auto;
	}
</style>
