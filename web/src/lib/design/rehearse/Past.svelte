<!-- What has happened by the instant one looks at: events with the rule that made them so, messages, calls. -->
<script lang="ts">
	import Why from '$lib/ui/Why.svelte';
	import { at } from '$lib/words';
	import { getEditor } from '../editor.svelte';
	import { getRehearsal } from './rehearsal.svelte';
	let { what }: { what: 'events' | 'messages' | 'calls' } = $props();
	const rehearsal = getRehearsal();
	const editor = getEditor();

	const result = $derived(rehearsal.result);
	const now = $derived(rehearsal.frames[rehearsal.here]?.at ?? '');
	const events = $derived(
		(result?.events ?? []).filter((e) => e.at <= now && (e.text || e.why)).toReversed()
	);
	const messages = $derived((result?.messages ?? []).filter((m) => m.at <= now).toReversed());
	const calls = $derived((result?.calls ?? []).filter((c) => c.at <= now).toReversed());
	const name = (login: string | undefined) => (login ? (result?.names[login] ?? login) : '');
	const side = (place: string | undefined) => place?.split('/')[1] ?? '';
</script>

{#if what === 'events'}
	<ol>
		{#each events as event, i (i)}
			<li>
				<span class="soft mono small">{at(event.at)}</span>
				<span>
					{#if event.by}<strong class="small">{name(event.by)}</strong>{/if}
					{event.text || (event.kind === 'dueSet' ? 'When it is due' : event.kind)}
					{#if event.said}<q>{event.said}</q>{/if}
					{#if event.why}<Why reason={event.why} of={event.text || event.kind} />{/if}
					{#if event.place && side(event.place)}<a
							class="small"
							href="/design/{editor.document.key}/{side(event.place)}"
							aria-label="The rule of: {event.text || event.kind}">rule</a
						>{/if}
				</span>
			</li>
		{:else}<li class="soft">Nothing yet.</li>{/each}
	</ol>
{:else if what === 'messages'}
	<p class="small soft">None of these is sent.</p>
	{#each messages as message, i (i)}
		<details>
			<summary
				><span class="soft mono small">{at(message.at)}</span> to <strong>{name(message.to)}</strong>: {message.subject}</summary
			>
			<p class="letter">{message.text}</p>
		</details>
	{:else}<p class="soft">Nobody has been told anything yet.</p>{/each}
{:else}
	<p class="small soft">No system is called.</p>
	{#each calls as call, i (i)}
		<details>
			<summary
				><span class="soft mono small">{at(call.at)}</span>
				{call.undoes ? 'Taken back: ' : ''}{call.connector}, {call.action}:
				<strong>{call.outcome}</strong></summary
			>
			<dl>
				{#each Object.entries(call.inputs ?? {}) as [key, value] (key)}<dt class="small">{key}</dt>
					<dd class="mono small">{value || '—'}</dd>{/each}
				{#each Object.entries(call.outputs ?? {}) as [key, value] (key)}<dt class="small">gives {key}</dt>
					<dd class="mono small">{value}</dd>{/each}
				<dt class="small">key</dt>
				<dd class="mono small">{call.key}</dd>
			</dl>
		</details>
	{:else}<p class="soft">No system has been called yet.</p>{/each}
{/if}

<style>
	ol {
		list-style: none;
		padding: 0;
	}
	li {
		display: grid;
		grid-template-columns: 8.5rem minmax(0, 1fr);
		gap: 0.6rem;
		padding: 0.2rem 0;
		border-bottom: 1px solid var(--line);
	}
	details {
		border-bottom: 1px solid var(--line);
		padding: 0.2rem 0;
	}
	.letter {
		white-space: pre-line;
		border-left: 3px solid var(--sound);
		padding: 0.3rem 0.7rem;
		margin-block: 0.3rem;
	}
	dl {
		display: grid;
		grid-template-columns: 9rem minmax(0, 1fr);
		padding: 0.3rem 0.7rem;
	}
	dd {
		overflow-wrap: anywhere;
	}
</style>
