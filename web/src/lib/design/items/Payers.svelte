<!-- Who pays: the person a part, cost centres their shares, in which currencies. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Many from '../Many.svelte';
	import { text } from './fields';
	const editor = getEditor();
	const items = $derived(editor.document.items);
	const questions = $derived(editor.document.questions);
	const ofKind = (kind: string) => questions.filter((q) => q.kind === kind);
	const sharing = $derived(ofKind('table').find((q) => q.key === items.costCentres?.question));
</script>

<div class="inline">
	<label class="tick"
		><input
			type="checkbox"
			class="checkbox"
			checked={Boolean(items.company)}
			onchange={(e) => (items.company = e.currentTarget.checked ? { percent: '100' } : undefined)}
		/> The person pays a part: the company pays</label
	>
	{#if items.company}
		<input
			class="input narrow"
			bind:value={items.company.percent}
			aria-label="The company pays, in percent"
		/>
		% but at most
		<input
			class="input narrow"
			placeholder="once"
			aria-label="At most once"
			value={items.company.once ?? ''}
			oninput={(e) => items.company && (items.company.once = text(e))}
		/>
		<input
			class="input narrow"
			placeholder="a month"
			aria-label="At most a month"
			value={items.company.monthly ?? ''}
			oninput={(e) => items.company && (items.company.monthly = text(e))}
		/>
	{/if}
</div>
<Field label="Who pays is said by" hint="One cost centre, or a table whose rows share the cost.">
	<select
		class="select"
		value={items.costCentres?.question ?? ''}
		onchange={(e) => {
			const q = questions.find((t) => t.key === e.currentTarget.value);
			const column = (...kinds: string[]) => q?.columns?.find((c) => kinds.includes(c.kind))?.key;
			items.costCentres = q && { question: q.key };
			if (items.costCentres && q?.kind === 'table') {
				items.costCentres.centre = column('costCentre', 'text') ?? '';
				items.costCentres.percent = column('number');
			}
		}}
	>
		<option value="">nobody: the beneficiary's own cost centre bears all</option>
		{#each [...ofKind('costCentre'), ...ofKind('table')] as q (q.key)}<option value={q.key}>{q.label}</option
			>{/each}
	</select>
</Field>
{#if sharing && items.costCentres}
	<div class="row">
		<Field label="Cost centre in the column">
			<select class="select" bind:value={items.costCentres.centre}>
				{#each (sharing.columns ?? []).filter( (c) => ['costCentre', 'text'].includes(c.kind) ) as c (c.key)}<option
						value={c.key}>{c.label}</option
					>{/each}
			</select>
		</Field>
		<Field label="Share in the column" hint="When none is filled in, the shares are equal.">
			<select class="select" bind:value={items.costCentres.percent}>
				<option value={undefined}>none: always equal shares</option>
				{#each (sharing.columns ?? []).filter((c) => c.kind === 'number') as c (c.key)}<option value={c.key}
						>{c.label}</option
					>{/each}
			</select>
		</Field>
	</div>
{/if}
<Found place="/items/costCentres" />
<Field label="Rates of other currencies" hint="One in each line, such as NOK 0.0861.">
	<Many
		rows={2}
		field="rates"
		value={Object.entries(items.rates ?? {}).map(([code, rate]) => `${code} ${rate}`)}
		onlist={(list) => {
			const pairs = list.map((line) => line.split(/\s+/)).filter((pair) => pair.length === 2);
			items.rates = pairs.length ? (Object.fromEntries(pairs) as Record<string, string>) : undefined;
		}}
	/>
</Field>
<Found place="/items/rates" />
