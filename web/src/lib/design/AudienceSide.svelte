<script lang="ts">
	import Field from './Field.svelte';
	import Found from './Found.svelte';
	import { getEditor } from './editor.svelte';
	const editor = getEditor();
	const audience = $derived(editor.document.audience);
	let some = $state(Boolean(getEditor().document.audience.ask));
</script>

<fieldset>
	<legend class="eyebrow">Who sees it and may ask?</legend>
	<label
		><input
			type="radio"
			class="radio"
			name="who"
			checked={!some}
			onchange={() => {
				some = false;
				audience.ask = '';
			}}
		/> Everyone</label
	>
	<label
		><input type="radio" class="radio" name="who" checked={some} onchange={() => (some = true)} /> Only those a
		rule fits</label
	>
</fieldset>
{#if some}
	<Field
		label="Rule, in CEL"
		hint="For instance asker.department == &quot;Fleet&quot;. There are login, name, title, department, costCentre, location, employment, grade and teams."
	>
		<textarea class="textarea mono" rows="3" bind:value={audience.ask} maxlength="4000" spellcheck="false"
		></textarea>
	</Field>
{/if}
<Found place="/audience" />

<style>
	fieldset {
		display: grid;
		gap: 0.3rem;
	}
	label {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
</style>
