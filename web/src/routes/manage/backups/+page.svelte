<!-- Backups: how they are made, and after a restore what would go out. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import { tell } from '$lib/ui/told.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import When from '$lib/ui/When.svelte';

	let { data } = $props();
	const act = new Act();
	const held = $derived(data.held);
	const made = $derived(data.backups);
	const size = (bytes: number) =>
		new Intl.NumberFormat('en', { style: 'unit', unit: 'megabyte', maximumFractionDigits: 1 }).format(
			bytes / 1e6
		);
	async function go() {
		const gone = await act.run(() => unwrap(api.POST('/api/held')));
		if (gone) void tell('It goes out now.');
	}
</script>

{#snippet outgoing(title: string, all: Schema['OutgoingView'][], count: number)}
	<h3>{title}: {count}</h3>
	<ul>
		{#each all as one, i (i)}
			<li>
				<When time={one.due} absolute /> <span class="mono">{one.reference}</span>
				{one.what}, {one.to}
			</li>
		{:else}<li class="soft">None.</li>{/each}
		{#if count > all.length}<li class="soft">And {count - all.length} more.</li>{/if}
	</ul>
{/snippet}

<svelte:head><title>Backups · Manage · Heptad</title></svelte:head>
<main id="sheet" tabindex="-1">
	<h1>Backups</h1>
	{#if held}
		<section class="held" data-held>
			<h2>Nothing goes out: this comes from a backup</h2>
			<p>
				It is as it was on <When time={held.made} absolute />, restored <When time={held.at} />. Calls of
				other systems, reminders and mails wait for your yes: some of them may have gone out before, from the
				machine that is gone.
			</p>
			{@render outgoing('Calls of other systems', held.calls, held.callCount)}
			{@render outgoing('Mails', held.mails, held.mailCount)}
			<Trouble problem={act.problem} />
			<button class="btn do" onclick={go} disabled={act.running} data-do="let-go">Let all of it go out</button
			>
		</section>
	{/if}
	{#if !made.dir}
		<p class="wanting" data-backups="none">
			<strong>No backups are made by themselves.</strong> Name a folder in the settings as
			<span class="mono">backup.dir</span>, best on another machine, and when it is to be done as
			<span class="mono">backup.at</span>.
		</p>
	{:else}
		<section class:late={made.late} data-backups={made.late ? 'late' : 'good'}>
			<h2>
				{#if made.last}The last was made <When time={made.last.at} />{:else}None was made yet{/if}{#if made.late}:
					one is missing{/if}
			</h2>
			<p>
				Every day at {made.at.join(' and ')} into <span class="mono">{made.dir}</span>; the last
				{made.keep} are kept.
				{#if made.next}The next is made <When time={made.next} />.{/if}
			</p>
			{#if made.runs.length}
				<table>
					<thead
						><tr><th>When</th><th>File</th><th class="right">Size</th><th class="right">Took</th></tr></thead
					>
					<tbody>
						{#each made.runs as run, i (i)}
							<tr>
								<td><When time={run.at} absolute /></td>
								{#if run.trouble}
									<td colspan="3" class="problem">None was made: {run.trouble}</td>
								{:else}
									<td class="mono">{run.file}</td>
									<td class="right mono">{size(run.size)}</td>
									<td class="right mono">{run.took.toFixed(1)} s</td>
								{/if}
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
		</section>
	{/if}
	<h2>By hand, and back</h2>
	<p>
		A backup is one file with everything but the keys and who is signed in. It is made while Heptad runs, on
		the machine it runs on:
	</p>
	<pre class="mono">heptad backup --data FOLDER FILE</pre>
	<p>On another machine, into an empty folder, with the keys beside it:</p>
	<pre class="mono">heptad restore FILE --data FOLDER --keys KEYS
heptad doctor --data FOLDER</pre>
	<p class="soft">
		What came after the backup is lost; references go on 10,000 higher, so that none is given twice.
	</p>
</main>

<style>
	main {
		display: grid;
		gap: 0.75rem;
		align-content: start;
	}
	p {
		max-width: 46rem;
	}
	pre {
		background: var(--panel);
		border: 1px solid var(--line);
		padding: 0.6rem 0.9rem;
		max-width: 46rem;
		overflow-x: auto;
	}
	section {
		display: grid;
		gap: 0.5rem;
		max-width: 56rem;
	}
	.late,
	.wanting {
		border-left: 4px solid var(--brass);
		background: var(--brass-wash);
		padding: 0.6rem 0.9rem;
	}
	.right {
		text-align: right;
	}
	h2 {
		font: 600 1.0625rem var(--heading);
		margin-top: 0.75rem;
	}
	section h2 {
		margin-top: 0;
	}
	.held {
		border-left: 4px solid var(--buoy);
		background: var(--buoy-wash);
		padding: 0.75rem 1rem;
		display: grid;
		gap: 0.5rem;
		justify-items: start;
		max-width: 56rem;
	}
</style>
