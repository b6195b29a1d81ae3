<!-- The prepared texts of messages that hold for all offerings. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import MessageText from '$lib/design/MessageText.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';

	let { data } = $props();
	const act = new Act();
	type Text = Schema['MessageText'];
	/** Texts as they are being written, by kind. */
	let written = $state<Record<string, Text>>({});
	let kept = $state('');

	async function keep(text: Text) {
		kept = '';
		const done = await act.run(() =>
			unwrap(
				api.PUT('/api/texts', { body: { kind: text.kind, subject: text.subject, body: text.body } })
			).then(() => true)
		);
		if (!done) return;
		delete written[text.kind];
		kept = text.kind;
	}
</script>

<svelte:head><title>Texts of messages · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<p class="eyebrow">
		<a href={data.texts.yours ? '/manage' : '/design'}>{data.texts.yours ? 'Manage' : 'Design'}</a>
	</p>
	<h1>Texts of messages</h1>
	<p class="soft">
		They hold for every offering that has none of its own on its promise side.
		{#if data.texts.yours}What changes is told from now on in the new words.{:else}Administrators write them;
			write other words for an offering of yours on its promise side.{/if}
	</p>
	<Trouble problem={act.problem} />
	<ul>
		{#each data.texts.entries as text (text.kind)}
			{@const now = written[text.kind] ?? { kind: text.kind, subject: text.subject, body: text.body }}
			<li>
				<details>
					<summary
						><strong>{text.words}</strong>
						<span class="soft small">{text.subject}</span><span class="own small"
							>&nbsp;{text.usual
								? 'as supplied'
								: text.renewed
									? 'own words; Heptad brings others now'
									: 'own words'}</span
						></summary
					>
					{#if data.texts.yours}
						<MessageText
							text={now}
							names={data.texts.names}
							onchange={(next) => (written[text.kind] = next)}
						/>
					{:else}<p class="words">{text.body}</p>{/if}
					{#if text.supplied}
						<details data-supplied={text.kind} open={text.renewed}>
							<summary class="small"
								>{text.renewed
									? 'As Heptad brings it now: it has changed since yours was written'
									: 'As it came with Heptad'}</summary
							>
							<p class="small"><strong>{text.supplied.subject}</strong></p>
							<p class="words small">{text.supplied.body}</p>
						</details>
					{/if}
					<div class="buttons" hidden={!data.texts.yours}>
						<button class="btn do" disabled={!written[text.kind] || act.running} onclick={() => keep(now)}
							>Save these words</button
						>
						{#if written[text.kind]}<button class="btn quiet" onclick={() => delete written[text.kind]}
								>As before</button
							>{/if}
						{#if !text.usual}<button
								class="btn quiet"
								onclick={() => keep({ kind: text.kind, subject: '', body: '' })}
								>Back to the usual words</button
							>{/if}
						{#if kept === text.kind}<span role="status" class="soft small">Saved.</span>{/if}
					</div>
				</details>
			</li>
		{/each}
	</ul>
</main>

<style>
	ul {
		margin-top: 0.8rem;
		border-top: 1px solid var(--line-strong);
	}
	li {
		border-bottom: 1px solid var(--line);
		padding-block: 0.5rem;
	}
	summary {
		cursor: pointer;
	}
	details > :global(.text) {
		margin-block: 0.6rem;
	}
	.words {
		white-space: pre-line;
		margin-block: 0.5rem;
	}
	.buttons[hidden] {
		display: none;
	}
	.own {
		border-bottom: 2px solid var(--brass);
	}
</style>
