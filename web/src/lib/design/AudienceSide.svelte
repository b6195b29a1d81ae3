<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import Asked from './Asked.svelte';
	import Found from './Found.svelte';
	import Rule from './Rule.svelte';
	import WhoIsIn from './WhoIsIn.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { getTrial } from './trial.svelte';
	import { getEditor } from './editor.svelte';
	const editor = getEditor();
	const audience = $derived(editor.document.audience);
	const trial = getTrial();

	type Which = 'see' | 'ask' | 'for';
	let which = $state<Which>('ask');
	/** Who asks, where one asks for others: as whom it is tried. */
	const asker = $derived(trial.form?.as);
	const survey = (words: string, out: boolean, after: number) =>
		unwrap(
			api.GET('/api/design/{offering}/audience', {
				params: {
					path: { offering: editor.document.key },
					query: { which, asker: asker?.id ?? '', words, out, after }
				}
			})
		);
	const flags = [
		['notSelf', 'It cannot be asked for oneself'],
		['newcomers', 'It can be asked for somebody not yet in the directory'],
		['told', 'Who it is for sees the request, too'],
		['quiet', 'It is nobody else’s business: what is asked for is counted, and stands in no list of records'],
		['inner', 'Only steps of other offerings use it: nobody finds it']
	] as const;
</script>

<Asked {audience} bundles={editor.materials.bundles} />
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

{#if which !== 'for' || asker}
	<WhoIsIn of="{which} {asker?.id ?? ''} {editor.opened.revision}" ask={survey} heading={choose} />
{:else}
	<h2>{@render choose()}</h2>
{/if}
{#snippet choose()}
	<select class="select" bind:value={which} aria-label="Which audience">
		<option value="ask">Who may ask</option>
		<option value="see">Who finds it</option>
		<option value="for">For whom one may ask</option>
	</select>
	{#if which === 'for'}
		as <PersonPicker
			name={asker?.name ?? ''}
			control={{ id: 'survey-asker', 'aria-label': 'Who asks' }}
			onpick={(person) => person && (trial.as = person.login)}
		/>
	{/if}
{/snippet}

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
	.select {
		width: auto;
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
</style>
