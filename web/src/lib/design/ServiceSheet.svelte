<!-- What a service or an area is, as its owner says: a service is made new, or changed. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Hanging from '$lib/ui/Hanging.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import PictureField from '$lib/ui/PictureField.svelte';

	type Props = {
		portfolio: Schema['PortfolioBody'];
		/** Of the company: one is home to it. */
		teams: Schema['Named'][];
		/** Neither: a new service. */
		service?: Schema['ServiceView'];
		area?: Schema['AreaView'];
		onclose: () => void;
	};
	let { portfolio, teams, service, area, onclose }: Props = $props();
	const known = untrack(() => service ?? area);
	const act = new Act();
	let edited = $state(
		untrack(() => ({
			name: known?.name ?? '',
			area: service?.area ?? portfolio.services[0]?.area ?? portfolio.areas[0]?.name ?? '',
			text: known?.text ?? '',
			home: known?.homeKey ?? (area ? '' : (portfolio.areas[0]?.homeKey ?? teams[0]?.key ?? '')),
			place: known?.place ?? ('offered' as const),
			second: known?.second ?? false,
			picture: known?.picture as string | undefined,
			words: known?.words ?? '',
			starts: known?.starts ?? '',
			review: known?.review ?? ''
		}))
	);
	let editors = $state(untrack(() => (known?.editors ?? []).map((e) => ({ key: e.key, name: e.name }))));
	let again = $state(0);
	const areas = $derived(portfolio.areas.map((a) => a.name));
	const wrong = (field: string) => act.problem?.errors?.find((e) => e.place === `/${field}`)?.sentence;
	const placed = $derived(act.problem?.errors?.some((e) => e.place));

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const { area: within, ...rest } = $state.snapshot(edited);
		const ofArea = { ...rest, editors: editors.map((e) => e.key) };
		const body = { ...ofArea, area: within };
		const kept = await act.run(async () => {
			if (!area) return unwrap(saved(body));
			await unwrap(api.PUT('/api/areas/{area}', { params: { path: { area: area.name } }, body: ofArea }));
			return { name: rest.name };
		});
		if (!kept) return;
		void tell(known ? 'Saved.' : `${kept.name} is there. Begin an offering in it.`);
		onclose();
	}
	const saved = (body: Schema['ServiceInput']) =>
		service
			? api.PUT('/api/services/{service}', { params: { path: { service: service.key } }, body })
			: api.POST('/api/services', { body });
</script>

<Dialog
	bind:open={() => true, (open) => open || onclose()}
	title={known ? known.name : 'A new service'}
	wide
	name="service"
>
	<form onsubmit={keep}>
		<Field label="Name" problem={wrong('name')}
			><input
				class="input"
				bind:value={edited.name}
				maxlength="120"
				required
				data-field="service-name"
			/></Field
		>
		{#if !area}
			<Field label="Area" hint="One there is, or a new one." problem={wrong('area')}
				><input
					class="input"
					list="areas"
					bind:value={edited.area}
					maxlength="120"
					required
					data-field="area"
				/>
				<datalist id="areas"
					>{#each areas as area (area)}<option value={area}></option>{/each}</datalist
				></Field
			>
		{/if}
		<Field label="What it is for"
			><textarea class="textarea" rows="2" bind:value={edited.text} maxlength="2000" data-field="text"
			></textarea></Field
		>
		<Field label="Found by" hint="Words that people use, with commas between them."
			><input class="input" bind:value={edited.words} maxlength="400" data-field="words" /></Field
		>
		<Field label={area ? 'Home team its new services begin with' : 'Home team'} problem={wrong('home')}
			><select class="select" bind:value={edited.home} data-field="home">
				{#if area}<option value="">None: whoever makes a service chooses</option>{/if}
				{#each teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
			</select></Field
		>
		{#if area}<Field label="Place in the portfolio"
				><select class="select" bind:value={edited.place} data-field="place">
					<option value="intended">intended</option>
					<option value="offered">offered</option>
					<option value="ended">ended</option>
				</select></Field
			>{/if}
		<PictureField label="Picture" value={edited.picture} onpicture={(uri) => (edited.picture = uri)} />
		<Field label="Offered from" several problem={wrong('starts')}
			><DateField
				label="Offered from"
				value={edited.starts}
				onday={(day) => (edited.starts = day ?? '')}
			/></Field
		>
		<Field label="Look at it again on" several problem={wrong('review')}
			><DateField
				label="Look at it again on"
				value={edited.review}
				onday={(day) => (edited.review = day ?? '')}
			/></Field
		>
		<div class="whole">
			<Field
				label={area ? 'Editors, who design in all its services' : 'Editors, who design it beside you'}
				several
				problem={wrong('editors')}
			>
				{#if editors.length}<ul>
						{#each editors as one (one.key)}<li data-editor={one.key}>
								{one.name}
								<button
									type="button"
									class="btn quiet small"
									onclick={() => (editors = editors.filter((e) => e.key !== one.key))}
									>Take out<span class="sr-only">&nbsp;{one.name}</span></button
								>
							</li>{/each}
					</ul>{/if}
				{#key again}<PersonPicker
						control={{ id: 'editor', 'aria-label': 'Another editor' }}
						onpick={(p) => {
							if (!p) return;
							if (!editors.some((e) => e.key === p.id)) editors = [...editors, { key: p.id, name: p.name }];
							again++;
						}}
					/>{/key}
			</Field>
			<label class="tick"
				><input type="checkbox" class="checkbox" bind:checked={edited.second} data-field="second" />
				{area ? 'Publishing in any of its services' : 'Publishing'} needs the yes of another of you</label
			>
			{#if wrong('second')}<p class="small problem" role="status">{wrong('second')}</p>{/if}
			{#if known}<Hanging service={service?.key} area={area?.name} />{/if}
			<Trouble problem={placed ? undefined : act.problem} />
			<div class="buttons">
				<button class="btn do" disabled={act.running} data-do="save-service"
					>{known ? 'Save' : 'Make it'}</button
				>
				<button type="button" class="btn plain" onclick={onclose}
					>{known ? 'Leave it as it was' : 'Not now'}</button
				>
			</div>
		</div>
	</form>
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
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
</style>
