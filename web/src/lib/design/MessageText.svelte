<!-- A prepared text with its placeholders, and how it reads with made-up facts. -->
<script lang="ts">
	import { api, unwrap, Refused, type Schema } from '$lib/api/client';

	type Text = Schema['MessageText'];
	type Props = { text: Text; names: string[]; onchange: (text: Text) => void };
	let { text, names, onchange }: Props = $props();
	const id = $props.id();
	let sample = $state.raw<Schema['Sampled'] | undefined>();
	let area = $state<HTMLTextAreaElement>();
	let asking = 0;

	async function read(from: Text) {
		const mine = ++asking;
		try {
			const got = await unwrap(api.POST('/api/texts/sample', { body: from }));
			if (mine === asking) sample = got;
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
		}
	}
	$effect(() => {
		const from = { kind: text.kind, subject: text.subject, body: text.body };
		const pause = setTimeout(() => void read(from), 150);
		return () => clearTimeout(pause);
	});
	/** Puts a placeholder where the cursor stands. */
	function insert(name: string) {
		const at = area?.selectionStart ?? text.body.length;
		onchange({ ...text, body: `${text.body.slice(0, at)}{{ ${name} }}${text.body.slice(at)}` });
		area?.focus();
	}
</script>

<div class="text" data-text={text.kind}>
	<div class="write">
		<label for="{id}-subject">Subject</label>
		<input
			id="{id}-subject"
			class="input"
			value={text.subject}
			oninput={(e) => onchange({ ...text, subject: e.currentTarget.value })}
			maxlength="200"
		/>
		<label for="{id}-body">Text</label>
		<textarea
			id="{id}-body"
			bind:this={area}
			class="textarea"
			rows="6"
			value={text.body}
			oninput={(e) => onchange({ ...text, body: e.currentTarget.value })}
			maxlength="4000"></textarea>
		<select
			class="select"
			aria-label="Put in a placeholder"
			value=""
			onchange={(e) => {
				insert(e.currentTarget.value);
				e.currentTarget.value = '';
			}}
		>
			<option value="" disabled>Put in a placeholder …</option>
			{#each names as name (name)}<option value={name}>{name}</option>{/each}
		</select>
	</div>
	<div class="reads" aria-live="polite">
		<p class="small soft">So it reads, with made-up facts</p>
		{#if sample?.findings.length}
			{#each sample.findings as found, i (i)}<p class="problem">{found.sentence}</p>{/each}
		{:else if sample}
			<p><strong>{sample.subject}</strong></p>
			<p class="body">{sample.text}</p>
		{/if}
	</div>
</div>

<style>
	.text {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 1.25rem;
	}
	.write {
		display: grid;
		gap: 0.25rem;
		align-content: start;
	}
	.reads {
		border-left: 3px solid var(--line-strong);
		padding-left: 0.9rem;
	}
	.body {
		white-space: pre-wrap;
	}
	@media (max-width: 700px) {
		.text {
			grid-template-columns: 1fr;
		}
	}
</style>
