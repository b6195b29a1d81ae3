<!-- What a service is, as its owner says: made new, or changed. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Dialog from '$lib/ui/Dialog.svelte';
	import Field from '$lib/ui/Field.svelte';
	import PersonPicker from '$lib/ui/PersonPicker.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import PictureField from './PictureField.svelte';

	type Props = {
		portfolio: Schema['PortfolioBody'];
		/** Nothing: it is new. */
		service?: Schema['ServiceView'];
		onclose: () => void;
	};
	let { portfolio, service, onclose }: Props = $props();
	const act = new Act();
	let edited = $state(
		untrack(() => ({
			name: service?.name ?? '',
			area: service?.area ?? portfolio.services[0]?.area ?? '',
			text: service?.text ?? '',
			home: service?.homeKey ?? portfolio.teams[0]?.key ?? '',
			place: service?.place ?? ('offered' as const),
			second: service?.second ?? false,
			picture: service?.picture as string | undefined,
			words: service?.words ?? '',
			starts: service?.starts ?? '',
			review: service?.review ?? ''
		}))
	);
	let editors = $state(untrack(() => (service?.editors ?? []).map((e) => ({ key: e.key, name: e.name }))));
	let again = $state(0);
	const areas = $derived([...new Set(portfolio.services.map((s) => s.area))]);
	const wrong = (field: string) => act.problem?.errors?.find((e) => e.place === `/${field}`)?.sentence;
	const placed = $derived(act.problem?.errors?.some((e) => e.place));

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const body = { ...$state.snapshot(edited), editors: editors.map((e) => e.key) };
		const kept = await act.run(() =>
			unwrap(
				service
					? api.PUT('/api/services/{service}', { params: { path: { service: service.key } }, body })
					: api.POST('/api/services', { body })
			)
		);
		if (!kept) return;
		void tell(service ? 'Saved.' : `${kept.name} is there. Begin an offering in it.`);
		onclose();
	}
</script>

<Dialog
	bind:open={() => true, (open) => open || onclose()}
	title={service ? service.name : 'A new service'}
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
		<Field label="What it is for"
			><textarea class="textarea" rows="2" bind:value={edited.text} maxlength="2000" data-field="text"
			></textarea></Field
		>
		<Field label="Found by" hint="Words that people use, with commas between them."
			><input class="input" bind:value={edited.words} maxlength="400" data-field="words" /></Field
		>
		<Field label="Home team" problem={wrong('home')}
			><select class="select" bind:value={edited.home} data-field="home">
				{#each portfolio.teams as team (team.key)}<option value={team.key}>{team.name}</option>{/each}
			</select></Field
		>
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
			<Field label="Editors, who design it beside you" several problem={wrong('editors')}>
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
				><input type="checkbox" class="checkbox" bind:checked={edited.second} data-field="second" /> Publishing
				needs the yes of another of you</label
			>
			{#if wrong('second')}<p class="small problem" role="status">{wrong('second')}</p>{/if}
			<Trouble problem={placed ? undefined : act.problem} />
			<div class="buttons">
				<button class="btn do" disabled={act.running} data-do="save-service"
					>{service ? 'Save' : 'Make it'}</button
				>
				<button type="button" class="btn plain" onclick={onclose}
					>{service ? 'Leave it as it was' : 'Not now'}</button
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
