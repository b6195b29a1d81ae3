<!-- Which column of a sheet is which field: as their headings say, or by hand. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';

	type Props = {
		sheet: Schema['SheetView'];
		running: boolean;
		onchoose: (columns: Record<string, string>) => void;
	};
	let { sheet, running, onchoose }: Props = $props();
	const missing = $derived(sheet.missing.map((key) => sheet.fields.find((f) => f.key === key)?.name ?? key));

	function choose(field: string, heading: string) {
		const columns: Record<string, string> = {};
		for (const f of sheet.fields) columns[f.key] = f.key === field ? heading : (sheet.columns[f.key] ?? '');
		for (const [key, h] of Object.entries(columns)) if (key !== field && h === heading) columns[key] = '';
		onchoose(columns);
	}
</script>

{#if missing.length}
	<p class="problem" role="status">
		No column is read as {missing.join(', ')}: choose which {missing.length === 1 ? 'it is' : 'they are'}.
	</p>
{/if}
<details open={missing.length > 0}>
	<summary
		>{Object.keys(sheet.columns).length} of {sheet.header.length} columns are read{#if sheet.unread.length}<span
				class="soft">, not {sheet.unread.slice(0, 6).join(', ')}</span
			>{/if}</summary
	>
	<div class="columns">
		{#each sheet.fields as f (f.key)}
			<label>
				<span class="caption"
					>{f.name}{#if f.needed}<span class="soft"> (needed)</span>{/if}</span
				>
				<select
					class="select"
					value={sheet.columns[f.key] ?? ''}
					disabled={running}
					onchange={(e) => choose(f.key, e.currentTarget.value)}
					data-column={f.key}
				>
					<option value="">no column</option>
					{#each sheet.header.filter(Boolean) as heading (heading)}<option>{heading}</option>{/each}
				</select>
			</label>
		{/each}
	</div>
</details>

<style>
	details {
		margin-block: 0.5rem;
	}
	.columns {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
		gap: 0.6rem 1rem;
		margin-block: 0.6rem;
	}
	label {
		display: grid;
		gap: 0.15rem;
	}
</style>
