<!-- What somebody chooses for themself, and wants those to know who have a task for them. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { languageName } from '$lib/words';

	let { profile }: { profile: Schema['ProfileView'] } = $props();
	const act = new Act();
	const zones = Intl.supportedValuesOf('timeZone');
	const common =
		'ar cs da de el en es et fi fr ga hi hr hu is it ja ko lt lv mt nb nl pl pt ro ru sk sl sv tr uk vi zh';
	const languages = $derived(
		[...new Set([...common.split(' '), ...(profile.language ? [profile.language] : [])])]
			.map((tag) => ({ tag, name: languageName(tag) }))
			.sort((a, b) => a.name.localeCompare(b.name))
	);
	let edited = $state(
		untrack(() => ({ address: '', reach: '', help: '', language: '', zone: '', ...profile }))
	);
	const here = new Intl.DateTimeFormat().resolvedOptions().timeZone;
	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const { address, reach, help, language, zone } = edited;
		const otherZone = zone !== (profile.zone ?? '');
		const kept = await act.run(() =>
			unwrap(api.PUT('/api/me/profile', { body: { address, reach, help, language, zone } }))
		);
		if (kept && otherZone)
			location.reload(); // every time on the page is another now
		else if (kept) void tell('Saved. Those who have a task for you see it beside your name.');
	}
</script>

<form onsubmit={keep}>
	<Field label="How you want to be addressed"
		><input class="input" bind:value={edited.address} maxlength="120" data-field="address" /></Field
	>
	<Field label="When you can be reached"
		><input class="input" bind:value={edited.reach} maxlength="300" data-field="reach" /></Field
	>
	<Field label="What help you need"
		><textarea class="textarea" rows="2" bind:value={edited.help} maxlength="500" data-field="help"
		></textarea></Field
	>
	<Field label="Language to speak to you in"
		><select class="select" bind:value={edited.language} data-field="language">
			<option value="">as the company has it</option>
			{#each languages as one (one.tag)}<option value={one.tag}>{one.name}</option>{/each}
		</select></Field
	>
	<Field label="Zone of your times" hint="On the page and in mails. Nobody else sees it."
		><select class="select" bind:value={edited.zone} data-field="zone">
			<option value="">where you are ({here})</option>
			{#each zones as zone (zone)}<option>{zone}</option>{/each}
		</select></Field
	>
	<Trouble problem={act.problem} />
	<div class="buttons">
		<button class="btn plain" disabled={act.running} data-do="save-profile">Save</button>
	</div>
</form>

<style>
	form {
		display: grid;
		gap: 0.7rem;
		width: 100%;
		max-width: 26rem;
	}
</style>
