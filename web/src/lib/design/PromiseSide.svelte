<script lang="ts">
	import Field from './Field.svelte';
	import Found from './Found.svelte';
	import { getEditor } from './editor.svelte';
	const editor = getEditor();
	const promise = $derived(editor.document.promise);
	const zones = Intl.supportedValuesOf('timeZone');
</script>

<Field label="Time zone" hint="What “today” means in the rules is reckoned here.">
	<input class="input short" list="zones" bind:value={promise.zone} />
</Field>
<datalist id="zones"
	>{#each zones as zone (zone)}<option value={zone}></option>{/each}</datalist
>
<Found place="/promise/zone" />
<Field
	label="Working days to confirm"
	hint="If the asker says nothing, the request closes as fulfilled after so many. 0 closes on delivery."
>
	<input
		class="input short"
		type="number"
		min="0"
		max="250"
		value={promise.confirmWithin ?? 5}
		oninput={(e) =>
			Number.isInteger(e.currentTarget.valueAsNumber) &&
			(promise.confirmWithin = e.currentTarget.valueAsNumber)}
	/>
</Field>
<Found place="/promise/confirmWithin" />

<style>
	.short {
		max-width: 16rem;
	}
</style>
