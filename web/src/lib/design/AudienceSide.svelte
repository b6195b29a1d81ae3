<script lang="ts">
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';
	import Found from './Found.svelte';
	import Rule from './Rule.svelte';
	import Person from '$lib/ui/Person.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import Segments from '$lib/ui/Segments.svelte';
	import { getTrial } from './trial.svelte';
	import { getEditor } from './editor.svelte';
	const editor = getEditor();
	const audience = $derived(editor.document.audience);
	const trial = getTrial();

	type Which = 'see' | 'ask' | 'for';
	let which = $state<Which>('ask');
	/** Who asks, where one asks for others: as whom it is tried. */
	const asker = $derived(trial.form?.as);
	let all = $state.raw<Schema['Verdict'][]>([]);
	let trouble = $state('');
	let words = $state('');
	let side = $state<'in' | 'out'>('in');
	let asking = 0;

	$effect(() => {
		void editor.opened.revision;
		if (which !== 'for' || asker) void survey(which, asker?.id ?? '');
	});
	async function survey(which: Which, asker: string) {
		const mine = ++asking;
		try {
			const found = await unwrap(
				api.GET('/api/design/{offering}/audience', {
					params: { path: { offering: editor.document.key }, query: { which, asker } }
				})
			);
			if (mine === asking) [all, trouble] = [found.entries, ''];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (mine === asking) [all, trouble] = [[], refused.problem.detail];
		}
	}
	const count = $derived(all.filter((v) => v.in).length);
	const listed = $derived(
		all
			.filter((v) => v.in === (side === 'in') || words)
			.filter((v) => `${v.name} ${v.where}`.toLowerCase().includes(words.toLowerCase()))
	);
	const flags = [
		['notSelf', 'It cannot be asked for oneself'],
		['newcomers', 'It can be asked for somebody not yet in the directory'],
		['told', 'Who it is for sees the request, too'],
		['inner', 'Only steps of other offerings use it: nobody finds it']
	] as const;
</script>

<Rule
	begins="May be asked for by"
	without="everyone"
	place="/audience/ask"
	value={audience.ask}
	onrule={(rule) => (audience.ask = rule || undefined)}
/>
<Found place="/audience/ask" />
<Rule
	begins="Found by"
	without="those who may ask"
	place="/audience/see"
	value={audience.see}
	onrule={(rule) => (audience.see = rule || undefined)}
/>
<Found place="/audience/see" />
<Rule
	begins="Can be asked for others"
	without="never"
	always="for everyone"
	ready={{ words: 'for those they manage', rule: 'asker.login in beneficiary.managers' }}
	place="/audience/for"
	value={audience.for}
	onrule={(rule) => (audience.for = rule || undefined)}
/>
<Found place="/audience/for" />
<div class="flags">
	{#each flags as [key, label] (key)}
		<label
			><input
				type="checkbox"
				class="checkbox"
				checked={audience[key] ?? false}
				onchange={(e) => (audience[key] = e.currentTarget.checked || undefined)}
				data-field={key}
			/>
			{label}</label
		>
	{/each}
</div>

<section class="survey" aria-label="Who is in">
	<h2>
		<select class="select" bind:value={which} aria-label="Which audience">
			<option value="ask">Who may ask</option>
			<option value="see">Who finds it</option>
			<option value="for">For whom one may ask</option>
		</select>
		{#if which === 'for'}
			as <PersonPicker
				name={asker?.name ?? ''}
				control={{ id: 'survey-asker', 'aria-label': 'Who asks' }}
				onpick={(person) => person && (trial.as = person.id)}
			/>
		{/if}
		<span class="count" role="status" data-count={count}>{count} of {all.length} people</span>
	</h2>
	{#if trouble}<p class="problem">{trouble}</p>{/if}
	<div class="find">
		<input
			class="input"
			bind:value={words}
			placeholder="Why is somebody in or out? Type a name"
			aria-label="Find a person"
		/>
		<Segments
			label="Who is listed"
			value={side}
			choices={[
				['in', `in (${count})`],
				['out', `out (${all.length - count})`]
			]}
			onpick={(which) => (side = which)}
		/>
	</div>
	<ul>
		{#each listed.slice(0, 30) as v (v.person)}
			<li data-verdict={v.in}>
				<span class="verdict">{v.in ? 'in' : 'out'}</span>
				<span
					><Person name={v.name} note={v.where} />{#if words}<br /><span class="small">{v.reason}</span
						>{/if}</span
				>
			</li>
		{:else}
			<li class="soft">Nobody.</li>
		{/each}
		{#if listed.length > 30}<li class="soft small">
				and {listed.length - 30} more: type a name to find them.
			</li>{/if}
	</ul>
</section>

<style>
	.flags {
		display: grid;
		gap: 0.3rem;
	}
	.flags label {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.survey {
		border-top: 2px solid var(--ink);
		padding-top: 0.75rem;
	}
	.survey h2 {
		display: flex;
		flex-wrap: wrap;
		gap: 0.6rem;
		align-items: center;
	}
	.survey .select {
		width: auto;
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
	.count {
		font-weight: 700;
		color: var(--sound);
	}
	.find {
		display: flex;
		gap: 1rem;
		align-items: center;
		margin-block: 0.5rem;
	}
	.find .input {
		flex: 1;
	}
	li {
		display: grid;
		grid-template-columns: 2.2rem minmax(0, 1fr);
		padding: 0.2rem 0;
		border-bottom: 1px solid var(--line);
	}
	.verdict {
		font-family: var(--mono);
		font-size: 0.8125rem;
		color: var(--ink-soft);
	}
</style>
