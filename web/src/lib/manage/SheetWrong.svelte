<!-- What is wrong in a sheet, alike together: mended once for all its lines. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';

	type Wrong = Schema['WrongView'];
	type Edit = { field?: string; value?: string; line?: number; means?: string; leave?: number };
	type Props = { sheet: Schema['SheetView']; running: boolean; onmend: (edit: Edit) => void };
	let { sheet, running, onmend }: Props = $props();
	let typed = $state<Record<string, string>>({});

	const key = (w: Wrong) => `${w.field} ${w.raw} ${w.sentence}`;
	const name = (field: string) => sheet.fields.find((f) => f.key === field)?.name ?? field;
	/** One line is mended alone; a value that stands in several, everywhere. */
	function mend(w: Wrong, means: string) {
		if (w.count === 1) onmend({ field: w.field, line: w.lines[0], means });
		else onmend({ field: w.field, value: w.raw, means });
	}
	const lines = (w: Wrong) =>
		w.count === 1
			? `line ${w.lines[0]}`
			: `${w.count} lines: ${w.lines.join(', ')}${w.count > w.lines.length ? ' …' : ''}`;
	const waits = $derived(sheet.counts['waits'] ?? 0);
</script>

<section data-wrong={sheet.wrong.length}>
	<h2>What is wrong</h2>
	<ul>
		{#each sheet.wrong as w (key(w))}
			<li>
				<div>
					<strong>{name(w.field)}</strong>
					<span class="soft small">{lines(w)}</span>
					<p class="problem">{w.sentence}</p>
				</div>
				<form
					onsubmit={(e) => {
						e.preventDefault();
						mend(w, typed[key(w)] ?? w.value);
					}}
				>
					{#each w.near as near (near)}
						<button
							type="button"
							class="btn plain"
							disabled={running}
							onclick={() => mend(w, near)}
							data-near={near}>{near}</button
						>
					{/each}
					<input
						class="input"
						value={typed[key(w)] ?? w.value}
						oninput={(e) => (typed[key(w)] = e.currentTarget.value)}
						aria-label="{name(w.field)} is to be, in {lines(w)}"
						maxlength="4000"
					/>
					<button class="btn quiet" disabled={running} data-do="mend"
						>Mend{w.count > 1 ? ` all ${w.count}` : ''}</button
					>
					{#if w.count === 1}<button
							type="button"
							class="btn quiet"
							disabled={running}
							onclick={() => onmend({ leave: w.lines[0] })}
							data-do="leave">Leave out</button
						>{/if}
				</form>
			</li>
		{/each}
	</ul>
	{#if waits}<p class="soft">
			{waits === 1 ? 'One more line names' : `${waits} more lines name`} what stands in a line that is wrong: they
			are read as soon as that is mended.
		</p>{/if}
</section>

<style>
	section {
		margin-top: 1rem;
	}
	ul {
		border-top: 1px solid var(--ink);
		max-height: 26rem;
		overflow-y: auto;
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
		gap: 0.75rem;
		align-items: center;
		padding: 0.4rem 0;
		border-bottom: 1px solid var(--line);
	}
	form {
		display: flex;
		flex-wrap: wrap;
		gap: 0.4rem;
		align-items: center;
	}
	.input {
		width: 11rem;
		flex: 1;
		min-height: 1.9rem;
		padding-block: 0.1rem;
	}
	.btn {
		padding-block: 0.25rem;
	}
	@media (max-width: 900px) {
		li {
			grid-template-columns: minmax(0, 1fr);
		}
	}
</style>
