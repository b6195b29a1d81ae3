<!-- For whom it is: oneself, somebody else, or somebody not in the directory yet. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import type { Schema } from '$lib/api/client';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { getTools } from './tools';

	type Beneficiary = Schema['OfferingBeneficiary'];
	type Props = {
		form: Schema['OpenedForm'];
		me: string;
		value: Beneficiary;
		trouble: string | undefined;
		onchange: (value: Beneficiary) => void;
	};
	let { form, me, value, trouble, onchange }: Props = $props();
	const tools = getTools();

	type Way = 'self' | 'other' | 'newcomer';
	const first = (): Way =>
		value.newcomer
			? 'newcomer'
			: value.other || (value.person && value.person !== me)
				? 'other'
				: form.forSelf
					? 'self'
					: form.newcomers
						? 'newcomer'
						: 'other';
	let way = $state<Way>(untrack(first));
	const fields = [
		['name', 'Name'],
		['email', 'E-mail, if there is one'],
		['title', 'Job'],
		['location', 'Where they will work']
	] as const;

	function choose(next: Way) {
		way = next;
		if (next === 'self') onchange({ person: me });
		if (next === 'other') onchange({ other: true, via: value.via });
		if (next === 'newcomer') onchange({ newcomer: value.newcomer ?? { name: '' }, via: value.via });
	}
	const newcomer = (key: string, text: string) =>
		onchange({ via: value.via, newcomer: { ...(value.newcomer ?? { name: '' }), [key]: text } });
</script>

<fieldset class="for" data-for={way}>
	<legend class="ask">For whom is it?</legend>
	<div class="ways">
		{#if form.forSelf}<label
				><input
					type="radio"
					class="radio"
					name="for"
					checked={way === 'self'}
					onchange={() => choose('self')}
				/> For me</label
			>{/if}
		{#if form.forOthers}<label
				><input
					type="radio"
					class="radio"
					name="for"
					checked={way === 'other'}
					onchange={() => choose('other')}
				/> For somebody else</label
			>{/if}
		{#if form.newcomers}<label
				><input
					type="radio"
					class="radio"
					name="for"
					checked={way === 'newcomer'}
					onchange={() => choose('newcomer')}
				/> For somebody new</label
			>{/if}
	</div>
	{#if way === 'other'}
		<label class="small soft" for="for-person">Who?</label>
		<PersonPicker
			among={tools && ((words) => tools.lookUp('', words))}
			name={value.person && value.person !== me ? form.forName : ''}
			control={{ id: 'for-person' }}
			onpick={(p) => onchange(p ? { person: p.id, via: value.via } : { other: true, via: value.via })}
		/>
	{:else if way === 'newcomer'}
		<div class="new">
			{#each fields as [key, label] (key)}
				<label
					><span class="small">{label}</span><input
						class="input"
						value={value.newcomer?.[key] ?? ''}
						oninput={(e) => newcomer(key, e.currentTarget.value)}
						maxlength="120"
						data-newcomer={key}
					/></label
				>
			{/each}
		</div>
	{/if}
	{#if way === 'other' || way === 'newcomer'}
		<label class="via"
			><span class="small">Did they ask you?</span>
			<select
				class="select"
				value={value.via ?? ''}
				onchange={(e) =>
					onchange({ ...value, via: (e.currentTarget.value || undefined) as Beneficiary['via'] })}
				data-field="via"
			>
				<option value="">No, I ask on my own account</option>
				<option value="person">Yes, in person</option>
				<option value="phone">Yes, by phone</option>
				<option value="mail">Yes, by mail</option>
				<option value="chat">Yes, in a chat</option>
			</select></label
		>
	{/if}
	<div class="trouble" aria-live="polite">
		{#if trouble}<p class="problem small">{trouble}</p>{/if}
	</div>
</fieldset>

<style>
	.for {
		border-left: 4px solid var(--sound);
		padding: 0.2rem 0 0.4rem 0.75rem;
		margin-block: 0.6rem;
	}
	.ask {
		font-weight: 600;
	}
	.ways {
		display: flex;
		flex-wrap: wrap;
		gap: 0.2rem 1.4rem;
		padding-block: 0.2rem;
	}
	.ways label {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.new {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.4rem 1rem;
	}
	.via {
		display: grid;
		max-width: 22rem;
		margin-top: 0.4rem;
	}
	.trouble {
		min-height: 1.5rem;
	}
	.new label {
		display: grid;
	}
</style>
