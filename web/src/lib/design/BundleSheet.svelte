<!-- What a bundle is, as an administrator says; who gains and loses what is shown before it counts. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import Gains from './Gains.svelte';
	import Rule from './Rule.svelte';
	import { setRules, type Rules } from './editor.svelte';

	type Props = {
		all: Schema['BundlesBody'];
		/** Nothing: it is new. */
		bundle?: Schema['BundleLine'];
		sentence?: Schema['RuleSentence'];
		/** How many offerings name it. */
		uses?: number;
	};
	let { all, bundle, sentence, uses = 0 }: Props = $props();
	const act = new Act();
	let name = $state(untrack(() => bundle?.name ?? ''));
	let text = $state(untrack(() => bundle?.text ?? ''));
	let rule = $state(untrack(() => bundle?.rule ?? ''));
	let turned = $state.raw<Schema['TurnedBody'] | undefined>();
	let trouble = $state('');

	/** A rule of a bundle is written as that of an audience, with nothing else around it. */
	class Room implements Rules {
		document: Rules['document'] = {
			format: 'heptad/offering/1',
			key: 'bundle',
			purpose: { name: '', text: '', service: '' },
			audience: {},
			questions: [],
			items: { currency: '', list: [] },
			ladder: [],
			plan: [],
			promise: { zone: 'UTC' }
		};
		materials = $derived({ facts: all.facts, sorts: all.sorts, kinds: [], teams: [] });
		forming = $state(0);
		known = $state.raw(
			untrack(() => (sentence && bundle ? { [bundle.rule]: sentence } : {})) as Record<
				string,
				Schema['RuleSentence']
			>
		);
		sentence = (of: string) => this.known[of];
		reads = (of: string, as: Schema['RuleSentence']) => (this.known = { ...this.known, [of]: as });
		apart = () => undefined;
	}
	const room = new Room();
	setRules(() => room);

	const changed = $derived(
		name.trim() !== (bundle?.name ?? '') ||
			text.trim() !== (bundle?.text ?? '') ||
			rule !== (bundle?.rule ?? '')
	);
	let asking = 0;
	$effect(() => {
		const now = rule;
		const mine = ++asking;
		if (now === (bundle?.rule ?? '')) {
			[turned, trouble] = [undefined, ''];
			return;
		}
		const pause = setTimeout(() => void turn(now, mine), 250);
		return () => clearTimeout(pause);
	});
	async function turn(now: string, mine: number) {
		try {
			const got = await unwrap(api.POST('/api/bundle-changes', { body: { bundle: bundle?.key, rule: now } }));
			if (mine === asking) [turned, trouble] = [got, ''];
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			if (mine === asking) [turned, trouble] = [undefined, refused.problem.detail];
		}
	}
	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const body = { name, text, rule, seen: bundle?.rule ?? '' };
		const kept = await act.run(() =>
			unwrap(
				bundle
					? api.PUT('/api/bundles/{bundle}', { params: { path: { bundle: bundle.key } }, body })
					: api.POST('/api/bundles', { body })
			)
		);
		if (!kept) return;
		void tell('Saved. It counts from now on.');
		await goto(`/design/bundles?key=${kept.key}`, { invalidateAll: true });
	}
	async function drop() {
		if (!bundle) return;
		const gone = await act.run(() =>
			unwrap(api.DELETE('/api/bundles/{bundle}', { params: { path: { bundle: bundle.key } } })).then(
				() => true
			)
		);
		if (gone) await goto('/design/bundles', { invalidateAll: true });
	}
	function asBefore() {
		[name, text, rule] = [bundle?.name ?? '', bundle?.text ?? '', bundle?.rule ?? ''];
	}
	const wrong = (field: string) => act.problem?.errors?.find((e) => e.place === `/${field}`)?.sentence;
</script>

<form onsubmit={keep} data-bundle-sheet={bundle?.key ?? ''}>
	<div class="pair">
		<Field label="Name" problem={wrong('name')}
			><input class="input" bind:value={name} maxlength="120" required data-field="bundle-name" /></Field
		>
		<Field label="Whom it is meant for"
			><input class="input" bind:value={text} maxlength="2000" data-field="bundle-text" /></Field
		>
	</div>
	<Rule
		begins="In it is who fits,"
		without="nobody yet"
		always="everyone"
		place="/audience/ask"
		value={rule}
		onrule={(next) => (rule = next)}
	/>
	{#if trouble || wrong('rule')}<p class="problem small" role="status">{trouble || wrong('rule')}</p>{/if}
	{#if turned}<Gains {turned} fresh={!bundle} />{/if}
	<Trouble problem={act.problem?.errors?.some((e) => e.place) ? undefined : act.problem} />
	<div class="buttons">
		<button class="btn do" disabled={!changed || act.running || room.forming > 0} data-do="save-bundle"
			>{bundle ? 'Save, and let it count' : 'Make it'}</button
		>
		{#if bundle && changed}<button type="button" class="btn quiet" onclick={asBefore}>As before</button>{/if}
		{#if bundle && !changed && uses === 0}<button
				type="button"
				class="btn quiet"
				onclick={drop}
				disabled={act.running}
				data-do="drop-bundle">Take it away</button
			>{/if}
	</div>
</form>

<style>
	form {
		display: grid;
		gap: 0.9rem;
		margin-top: 0.5rem;
		max-width: 52rem;
	}
	.pair {
		display: grid;
		grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
		gap: 1rem;
	}
</style>
