<!-- Messages that this offering writes in its own words. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import MessageText from '../MessageText.svelte';
	import Heading from './Heading.svelte';
	const editor = getEditor();
	const promise = $derived(editor.document.promise);
	type Kind = Schema['MessageText']['kind'];
	/** Kinds of message that have no words of the offering's own yet. */
	const others = $derived(
		editor.materials.messages.filter((m) => !promise.messages?.some((t) => t.kind === m.key))
	);
	function write(kind: Kind) {
		const usual = editor.materials.messages.find((m) => m.key === kind);
		const text = { kind, subject: usual?.subject ?? '', body: usual?.body ?? '' };
		promise.messages = [...(promise.messages ?? []), text];
	}
</script>

<Heading>Messages in its own words</Heading>
{#each promise.messages ?? [] as text, i (text.kind)}
	<div class="own">
		<div class="head">
			<strong>{editor.materials.messages.find((m) => m.key === text.kind)?.name}</strong>
			<button
				class="btn quiet small"
				onclick={() => editor.remove('The text', () => promise.messages?.splice(i, 1))}>Remove</button
			>
		</div>
		<MessageText
			{text}
			names={editor.materials.placeholders}
			onchange={(next) => promise.messages && (promise.messages[i] = next)}
		/>
		<Found place="/promise/messages/{i}" />
		<Found place="/promise/messages/{i}/subject" />
		<Found place="/promise/messages/{i}/body" />
	</div>
{:else}
	<p class="soft">None: the <a href="/design/texts">general texts</a> hold.</p>
{/each}
{#if others.length}
	<select
		class="select short"
		aria-label="Write a message of its own"
		value=""
		onchange={(e) => {
			write(e.currentTarget.value as Kind);
			e.currentTarget.value = '';
		}}
		data-field="own-message"
	>
		<option value="" disabled>Write one of its own …</option>
		{#each others as kind (kind.key)}<option value={kind.key}>{kind.name}</option>{/each}
	</select>
{/if}

<style>
	.own {
		padding-block: 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	.head {
		display: flex;
		justify-content: space-between;
	}
	.short {
		max-width: 16rem;
	}
</style>
