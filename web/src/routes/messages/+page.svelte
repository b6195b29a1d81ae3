<!-- What one was told, the last first; and how one wants to be told. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Paged } from '$lib/paged.svelte';
	import { Act } from '$lib/ui/act.svelte';
	import More from '$lib/ui/More.svelte';
	import Rows from '$lib/ui/Rows.svelte';
	import Switch from '$lib/ui/Switch.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const messages = new Paged(
		() => data.messages,
		(after) => unwrap(api.GET('/api/messages', { params: { query: { limit: 50, after } } }))
	);
	const mails = { now: 'at once', daily: 'once a day', off: 'never' } as const;
	const wentOut = {
		off: '',
		waiting: 'goes out by mail',
		sending: 'goes out by mail',
		sent: 'also by mail',
		failed: 'the mail failed'
	};
	const read = (body: { message?: string; request?: string }) =>
		act.run(() => unwrap(api.POST('/api/messages/read', { body })));
	const set = (way: Schema['WayView'], change: Partial<Schema['WayView']>) => {
		const { kind, list, mail } = { ...way, ...change };
		return act.run(() => unwrap(api.PUT('/api/ways', { body: { kind, list, mail } })));
	};
</script>

<svelte:head><title>Messages · Heptad</title></svelte:head>
<main id="sheet" class="single" tabindex="-1">
	<section>
		<div class="bar">
			<h1>Messages</h1>
			{#if data.session.unread > 0}<button class="btn quiet" onclick={() => read({})} disabled={act.running}
					>Mark all {data.session.unread > 99 ? '' : data.session.unread} as read</button
				>{/if}
		</div>
		<Trouble problem={act.problem} />
		<ul>
			<Rows entries={messages.entries} key={(m) => m.id}>
				{#snippet row(message, line)}
					<li class:unread={!message.read} data-message={message.kind} {...line}>
						<a href="/messages/{message.id}">
							{#if !message.read}<span class="new">new</span>{/if}
							<strong>{message.subject}</strong>
						</a>
						<p class="body">{message.text.replace(/\n{2,}/g, '\n')}</p>
						<p class="small soft">
							<When time={message.at} />{#if wentOut[message.mail]}, {wentOut[message.mail]}{/if}
						</p>
					</li>
				{/snippet}
			</Rows>
			{#if !messages.entries.length}
				<li class="soft">Nobody has told you anything yet. What concerns you comes here by itself.</li>
			{/if}
		</ul>
		{#if messages.next}<More more={messages.more} />{/if}
	</section>
	<aside id="ways" aria-label="How you are told">
		<h2>How you are told</h2>
		<table>
			<thead><tr><th scope="col">About</th><th scope="col">Here</th><th scope="col">By mail</th></tr></thead>
			<tbody>
				{#each data.ways as way (way.kind)}
					<tr>
						<th scope="row">{way.words}</th>
						<td
							><Switch
								label="{way.words}: in this list"
								field="ways/{way.kind}"
								on={way.list}
								onturn={(list) => void set(way, { list })}
							/></td
						>
						<td
							><select
								class="select"
								aria-label="{way.words}: by mail"
								value={way.mail}
								onchange={(e) => void set(way, { mail: e.currentTarget.value as typeof way.mail })}
								data-way={way.kind}
							>
								{#each Object.entries(mails) as [key, words] (key)}<option value={key}>{words}</option>{/each}
							</select></td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	</aside>
</main>

<style>
	main {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 25rem;
		gap: 1.75rem;
	}
	aside {
		scroll-margin-top: 4rem;
		padding-left: 1.5rem;
		border-left: 1px solid var(--line);
		font-size: 0.875rem;
	}
	.bar {
		display: flex;
		justify-content: space-between;
		align-items: center;
	}
	ul {
		margin-top: 0.5rem;
		border-top: 1px solid var(--line-strong);
	}
	li {
		border-bottom: 1px solid var(--line);
		padding: 0.6rem 0.75rem;
		border-left: 4px solid transparent;
	}
	.unread {
		border-left-color: var(--buoy);
	}
	.new {
		font: 600 0.8125rem var(--mono);
		color: var(--buoy-text);
		margin-right: 0.4rem;
	}
	.body {
		white-space: pre-line;
	}
	table {
		width: 100%;
		margin-top: 0.5rem;
	}
	th,
	td {
		text-align: left;
		font-weight: 400;
		padding: 0.3rem 0.4rem 0.3rem 0;
		border-bottom: 1px solid var(--line);
		vertical-align: middle;
	}
	thead th {
		font-weight: 600;
	}
	.select {
		width: auto;
		min-height: 1.9rem;
		padding-block: 0.1rem;
		font-size: 0.875rem;
	}
	@media (max-width: 900px) {
		main {
			grid-template-columns: minmax(0, 1fr);
		}
		aside {
			border: 0;
			border-top: 1px solid var(--line);
		}
	}
</style>
