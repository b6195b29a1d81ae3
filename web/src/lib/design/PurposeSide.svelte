<script lang="ts">
	import Tags from '$lib/ui/Tags.svelte';
	import Cel from './Cel.svelte';
	import { askedOfferings } from '$lib/names.svelte';
	import Field from '$lib/ui/Field.svelte';
	import NamePickers from '$lib/ui/NamePickers.svelte';
	import Found from './Found.svelte';
	import PictureField from '$lib/ui/PictureField.svelte';
	import { getEditor } from './editor.svelte';
	const editor = getEditor();
	const purpose = $derived(editor.document.purpose);
	const things = $derived(editor.document.questions.filter((q) => q.kind === 'belonging'));
</script>

<Field label="Name" hint="As people ask for it.">
	<input class="input" bind:value={purpose.name} maxlength="120" data-field="name" />
</Field>
<Found place="/purpose/name" />
<Field label="What it is for" hint="In a sentence or two.">
	<textarea class="textarea" rows="2" bind:value={purpose.text} maxlength="4000" data-field="text"></textarea>
</Field>
<Found place="/purpose/text" />
<Field label="What it is not for" hint="And what to ask for instead, so that nobody chooses the wrong form.">
	<input
		class="input"
		value={purpose.not ?? ''}
		oninput={(e) => (purpose.not = e.currentTarget.value || undefined)}
		maxlength="1000"
		data-field="not"
	/>
</Field>
<details open={Boolean(purpose.brief)}>
	<summary class="caption">Brief, for its owners</summary>
	<Field label="Why, what, who, when, how fast, who is told, what is measured" hint="Nobody else sees it.">
		<textarea
			class="textarea"
			rows="3"
			value={purpose.brief ?? ''}
			oninput={(e) => (purpose.brief = e.currentTarget.value || undefined)}
			maxlength="4000"></textarea>
	</Field>
</details>
<Field
	label="Instructions"
	hint="Shown above the form. **strong**, lists with -, and [words](address) are understood, in help articles, too."
>
	<textarea
		class="textarea"
		rows="2"
		value={purpose.instructions ?? ''}
		oninput={(e) => (purpose.instructions = e.currentTarget.value || undefined)}
		maxlength="8000"
		data-field="instructions"></textarea>
</Field>
<div class="two">
	<Field label="Service">
		<select class="select" bind:value={purpose.service} data-field="service">
			{#each editor.materials.services as service (service.key)}<option value={service.key}
					>{service.area}: {service.name}</option
				>{/each}
		</select>
	</Field>
	<Field label="Door">
		<select
			class="select"
			value={purpose.door ?? 'wanted'}
			onchange={(e) => (purpose.door = e.currentTarget.value as 'wanted' | 'broken')}
			data-field="door"
		>
			<option value="wanted">something is wanted</option>
			<option value="broken">something is broken</option>
		</select>
	</Field>
</div>
<Found place="/purpose/service" />
<Tags
	label="Keywords"
	hint="Other words people may type. A comma or Enter ends each."
	field="keywords"
	value={purpose.keywords}
	onlist={(list) => (purpose.keywords = list)}
/>
<Found place="/purpose/keywords" />
<div>
	<Cel
		titled
		label="Title of a request"
		place="/purpose/title"
		value={purpose.title ?? ''}
		text
		rows={1}
		field="title"
		onrule={(title) => (purpose.title = title || undefined)}
	/>
	<p class="hint">With placeholders such as {'{{ beneficiary.name }}'}; the name when left empty.</p>
</div>
<Found place="/purpose/title" />
<PictureField label="Picture" value={purpose.picture} onpicture={(uri) => (purpose.picture = uri)} />
<label class="tick"
	><input
		type="checkbox"
		class="checkbox"
		checked={purpose.pick ?? false}
		onchange={(e) => (purpose.pick = e.currentTarget.checked || undefined)}
		data-field="pick"
	/> Put forward on the front page</label
>
<fieldset>
	<legend class="caption">Help beside the form</legend>
	{#each purpose.articles ?? [] as article, i (i)}
		<div class="article">
			<input class="input" bind:value={article.title} aria-label="Title of article {i + 1}" maxlength="200" />
			<textarea class="textarea" rows="2" bind:value={article.text} aria-label="Text of article {i + 1}"
			></textarea>
			<button
				class="btn quiet small"
				onclick={() => editor.remove(article.title, () => purpose.articles?.splice(i, 1))}
				>Remove this article</button
			>
			<Found place="/purpose/articles/{i}" />
		</div>
	{/each}
	<button
		class="btn quiet small"
		onclick={() => (purpose.articles = [...(purpose.articles ?? []), { title: '', text: '' }])}
		>Add an article</button
	>
</fieldset>
<details open={Boolean(purpose.fits?.length)}>
	<summary class="caption">What people have that it is about</summary>
	<p class="hint">
		Beside such a thing, What I have offers to change, extend or hand it back with this form.
	</p>
	{#each purpose.fits ?? [] as fit, i (i)}
		<div class="fit" data-fit={i}>
			<select class="select" bind:value={fit.does} aria-label="What it does">
				<option value="change">Changes</option>
				<option value="extend">Extends</option>
				<option value="handBack">Hands back</option>
			</select>
			<input
				class="input"
				bind:value={fit.kind}
				placeholder="badge"
				maxlength="60"
				aria-label="Kind of thing"
			/>
			<span>named in</span>
			<select class="select" bind:value={fit.question} aria-label="Question that names it">
				<option value="" disabled>choose</option>
				{#each things as q (q.key)}<option value={q.key}>{q.label}</option>{/each}
			</select>
			<button
				class="btn quiet small"
				onclick={() => editor.remove('What it fits', () => purpose.fits?.splice(i, 1))}>Remove</button
			>
			<Found place="/purpose/fits/{i}" />
		</div>
	{/each}
	{#if things.length}
		<button
			class="btn quiet small"
			onclick={() =>
				(purpose.fits = [
					...(purpose.fits ?? []),
					{ kind: '', does: 'change', question: things[0]?.key ?? '' }
				])}
			data-do="add-fit">Add</button
		>
	{:else}
		<p class="soft small">First ask for it, with a question of the kind Belonging.</p>
	{/if}
</details>
<details open={Boolean(purpose.replaces?.length)}>
	<summary class="caption">Offerings that end when this one is published</summary>
	<NamePickers
		from={askedOfferings}
		value={purpose.replaces ?? []}
		without={[editor.document.key]}
		label="Offerings that end when this one is published"
		control={{ id: 'replaces', 'aria-label': 'One more that ends', 'data-field': 'replaces' }}
		onlist={(keys) => (purpose.replaces = keys.length ? keys : undefined)}
	/>
</details>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 14rem;
		gap: 0.75rem;
	}
	.fit {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
		align-items: center;
		margin-block: 0.3rem;
	}
	.fit .input,
	.fit .select {
		width: auto;
	}
	.article {
		display: grid;
		gap: 0.3rem;
		justify-items: start;
		border-left: 3px solid var(--line-strong);
		padding-left: 0.6rem;
		margin-block: 0.4rem;
	}
	.article .textarea {
		width: 100%;
	}
</style>
