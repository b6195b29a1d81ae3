<!-- One person, team, place or service: what is kept of it, and what was done to it. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Hanging from '$lib/ui/Hanging.svelte';
	import PictureField from '$lib/ui/PictureField.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import Double from './Double.svelte';
	import Reached from './Reached.svelte';
	import SignedIn from './SignedIn.svelte';
	import ActLine from './ActLine.svelte';
	import { kinds, type Kind } from './words';

	type Props = {
		kind: Kind;
		fields: Schema['IntakeField'][];
		/** Nothing: it is new. */
		opened?: Schema['RecordBody'];
		onclose: () => void;
	};
	let { kind, fields, opened, onclose }: Props = $props();
	const act = new Act();
	let cells = $state<Record<string, string>>(
		untrack(() => ({ active: 'yes', place: 'offered', second: 'no', ...(opened?.cells ?? {}) }))
	);
	/** Others are kept under it. */
	const fixed = $derived(opened ? (kind === 'locations' ? 'name' : 'key') : '');
	/** What never changes stands last: one comes for the rest. */
	const ordered = $derived([...fields].sort((a, b) => Number(a.key === fixed) - Number(b.key === fixed)));
	let hanging = $state.raw<Schema['HangingBody'] | undefined>();
	async function drop() {
		if (!opened) return;
		const gone = await act.run(() =>
			unwrap(api.DELETE('/api/areas/{area}', { params: { path: { area: opened.id } } })).then(() => true)
		);
		if (!gone) return;
		void tell(`${opened.name} is taken away.`);
		onclose();
	}
	const wrong = (key: string) => act.problem?.errors?.find((e) => e.place === `/cells/${key}`)?.sentence;
	const placed = $derived(act.problem?.errors?.some((e) => e.place.startsWith('/cells/')));

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const only = Object.fromEntries(fields.map((f) => [f.key, cells[f.key] ?? '']));
		const kept = await act.run(() =>
			unwrap(
				api.PUT('/api/company/{kind}/one', {
					params: { path: { kind } },
					body: { id: opened?.id, cells: only }
				})
			)
		);
		if (!kept) return;
		void tell(kept.waits ? 'Saved. To become inactive they wait for a yes, as many leave today.' : 'Saved.');
		onclose();
	}
</script>

<Dialog
	bind:open={() => true, (open) => open || onclose()}
	title={opened ? opened.name : `A new ${kinds[kind].one}`}
	wide
	name="record"
>
	<form onsubmit={keep}>
		{#each ordered as f (f.key)}
			<Field
				label={f.name}
				several={f.key === 'picture'}
				hint={f.key === fixed ? 'It never changes.' : f.help}
				problem={wrong(f.key)}
			>
				{#if f.key === 'active'}
					<select class="select" bind:value={cells[f.key]} data-field={f.key}>
						<option value="yes">yes</option>
						<option value="no">no, they have left</option>
					</select>
				{:else if f.key === 'second'}
					<select class="select" bind:value={cells[f.key]} data-field={f.key}>
						{#each ['no', 'yes'] as answer (answer)}<option>{answer}</option>{/each}
					</select>
				{:else if f.key === 'place'}
					<select class="select" bind:value={cells[f.key]} data-field={f.key}>
						{#each ['intended', 'offered', 'ended'] as place (place)}<option>{place}</option>{/each}
					</select>
				{:else if f.key === 'picture'}
					<PictureField
						label="Choose a picture"
						value={cells[f.key] || undefined}
						onpicture={(uri) => (cells[f.key] = uri ?? '')}
					/>
				{:else if f.key === 'text' || f.key === 'members'}
					<textarea class="textarea" rows="2" bind:value={cells[f.key]} maxlength="4000" data-field={f.key}
					></textarea>
				{:else}
					<input
						class="input"
						bind:value={cells[f.key]}
						readonly={f.key === fixed}
						aria-invalid={wrong(f.key) ? true : undefined}
						maxlength="2000"
						data-field={f.key}
					/>
				{/if}
			</Field>
		{/each}
		<div class="whole">
			{#if opened && (kind === 'areas' || kind === 'services')}<Hanging
					area={kind === 'areas' ? opened.id : undefined}
					service={kind === 'services' ? opened.id : undefined}
					onread={(h) => (hanging = h)}
				/>{/if}
			<Trouble problem={placed ? undefined : act.problem} />
			<div class="buttons">
				<button class="btn do" disabled={act.running} data-do="save">Save</button>
				<button type="button" class="btn plain" onclick={onclose}>Leave it as it was</button>
				{#if opened && kind === 'areas' && hanging && !hanging.services.length}<button
						type="button"
						class="btn quiet"
						disabled={act.running}
						onclick={drop}
						data-do="drop-area">Take it away</button
					>{/if}
			</div>
		</div>
	</form>
	{#if opened && kind === 'people' && opened.cells['active'] !== 'no'}
		<Reached person={opened.id} />
		<SignedIn person={opened.id} name={opened.name} />
		<Double person={opened.id} name={opened.name} onmerged={onclose} />
	{/if}
	{#if opened}
		<h2>What was done to it</h2>
		{#if opened.history.length}
			<ul>
				{#each opened.history as one (one.id)}<li><ActLine act={one} within /></li>{/each}
			</ul>
		{:else}<p class="soft">Nothing since Heptad came.</p>{/if}
	{/if}
</Dialog>

<style>
	form {
		display: grid;
		grid-template-columns: repeat(auto-fit, minmax(min(16rem, 100%), 1fr));
		gap: 0.75rem 1.25rem;
		align-items: start;
	}
	.whole {
		grid-column: 1 / -1;
		display: grid;
		gap: 0.6rem;
	}
	li {
		padding-block: 0.25rem;
		border-bottom: 1px solid var(--line);
	}
</style>
