<script lang="ts">
	import Field from './Field.svelte';
	import Found from './Found.svelte';
	import { getEditor } from './editor.svelte';
	const editor = getEditor();
	const purpose = $derived(editor.document.purpose);
	const keywords = (text: string) =>
		text
			.split(',')
			.map((w) => w.trim())
			.filter(Boolean);
</script>

<Field label="Name" hint="As people ask for it.">
	<input class="input" bind:value={purpose.name} maxlength="120" data-field="name" />
</Field>
<Found place="/purpose/name" />
<Field label="Text" hint="What it is for, and what it is not for, in a sentence or two.">
	<textarea class="textarea" rows="3" bind:value={purpose.text} maxlength="4000" data-field="text"></textarea>
</Field>
<Found place="/purpose/text" />
<Field label="Service">
	<select class="select" bind:value={purpose.service} data-field="service">
		{#each editor.portfolio.services as service (service.key)}<option value={service.key}
				>{service.area}: {service.name}</option
			>{/each}
	</select>
</Field>
<Found place="/purpose/service" />
<Field label="Keywords" hint="Other words people may type, with commas between.">
	<input
		class="input"
		value={(purpose.keywords ?? []).join(', ')}
		onchange={(e) => (purpose.keywords = keywords(e.currentTarget.value))}
		data-field="keywords"
	/>
</Field>
<Found place="/purpose/keywords" />
