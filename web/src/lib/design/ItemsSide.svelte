<script lang="ts">
	import { api, asked, Refused, type Schema } from '$lib/api/client';
	import { per } from '$lib/words';
	import Cel from './Cel.svelte';
	import Ticks from './Ticks.svelte';
	import AddLine from './AddLine.svelte';
	import Field from '$lib/ui/Field.svelte';
	import Found from './Found.svelte';
	import Lines from './Lines.svelte';
	import Many from './Many.svelte';
	import Part from './Part.svelte';
	import PictureField from './PictureField.svelte';
	import Rule from './Rule.svelte';
	import { getEditor, keyFrom, move, setDrop } from './editor.svelte';

	type Item = Schema['PriceItem'];
	const editor = getEditor();
	const items = $derived(editor.document.items);
	const extras = $derived(items.extras ?? []);
	const questions = $derived(editor.document.questions);
	const ofKind = (kind: string) => questions.filter((q) => q.kind === kind);
	const sharing = $derived(ofKind('table').find((q) => q.key === items.costCentres?.question));
	let imported = $state.raw<Schema['PriceImported'] | undefined>();
	let reading = $state('');
	let trouble = $state('');

	setDrop((from, to) => move(items.list, from, to - from));
	const keysOf = (list: { key: string }[]) => list.map((e) => e.key);
	function add(line: Schema['LinesLine'], alone: boolean) {
		if (line.extra) items.extras = [...extras, line.extra];
		if (!line.item) return;
		items.list.push(line.item);
		if (alone) editor.open[`/items/list#${line.item.key}`] = true;
	}
	function addExtra(words: string) {
		const key = keyFrom(words, keysOf(extras), 'extra');
		items.extras = [...extras, { key, name: words, price: { amount: '0', per: 'once' } }];
		editor.open[`/items/extras#${key}`] = true;
	}
	const addSurcharge = (words: string) =>
		(items.surcharges = [
			...(items.surcharges ?? []),
			{ key: keyFrom(words, keysOf(items.surcharges ?? []), 'surcharge'), name: words, percent: '0' }
		]);
	function addGroup(item: Item) {
		item.options ??= [];
		const groups = item.options; // the kept list, not the new one that was given
		groups.push({ key: keyFrom('size', keysOf(groups), 'option'), name: 'Size', choices: [] });
	}
	function addOption(e: KeyboardEvent, group: Schema['PriceOptionGroup']) {
		const field = e.currentTarget as HTMLInputElement;
		if (e.key !== 'Enter' || !field.value.trim()) return;
		e.preventDefault();
		group.choices.push({
			key: keyFrom(field.value, keysOf(group.choices), 'option'),
			name: field.value.trim()
		});
		field.value = '';
	}
	function fits(extra: Schema['PriceExtra'], key: string, on: boolean) {
		const all = extra.fits?.length ? extra.fits : keysOf(items.list);
		const next = on ? [...all, key] : all.filter((k) => k !== key);
		if (next.length === items.list.length) delete extra.fits;
		else extra.fits = next;
	}
	const whole = (e: Event) => {
		const n = Math.trunc((e.currentTarget as HTMLInputElement).valueAsNumber);
		return n > 0 ? n : undefined;
	};
	const text = (e: Event) => (e.currentTarget as HTMLInputElement).value || undefined;

	async function read(file: File | undefined) {
		if (!file) return;
		trouble = '';
		reading = file.name;
		try {
			imported = await asked(
				api.POST('/api/items', {
					params: { query: { currency: items.currency } },
					body: file as unknown as string,
					bodySerializer: (b) => b as unknown as File,
					headers: { 'Content-Type': 'text/csv' }
				})
			);
		} catch (refused) {
			if (!(refused instanceof Refused)) throw refused;
			trouble = refused.problem.detail;
		} finally {
			reading = '';
		}
	}
	/** Puts what was read in: an item with a key that is there takes its place. */
	function bring() {
		for (const item of imported?.items ?? []) {
			const at = items.list.findIndex((i) => i.key === item.key);
			if (at >= 0) items.list[at] = { ...items.list[at], ...item };
			else items.list.push(item);
		}
		imported = undefined;
	}
</script>

{#snippet charge(of: Schema['PriceCharge'])}
	<div class="four">
		<Field label="Price"
			><input
				class="input mono"
				inputmode="decimal"
				bind:value={of.amount}
				maxlength="20"
				data-field="amount"
			/></Field
		>
		<Field label="Due">
			<select class="select" bind:value={of.per} data-field="per">
				{#each Object.entries(per) as [key, words] (key)}<option value={key}>{words}</option>{/each}
			</select>
		</Field>
		<Field label="Currency, if another"
			><input
				class="input mono"
				value={of.currency ?? ''}
				oninput={(e) => (of.currency = text(e))}
				maxlength="3"
			/></Field
		>
		{#if of.per === 'month'}<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={of.byDays ?? false}
					onchange={(e) => (of.byDays = e.currentTarget.checked || undefined)}
				/> first month by days</label
			>{/if}
	</div>
{/snippet}

<Field label="Currency" hint="A code of ISO 4217, such as EUR.">
	<input class="input short mono" bind:value={items.currency} maxlength="3" />
</Field>
<Found place="/items/currency" />
<ol>
	{#each items.list as item, i (item.key)}
		<Part
			title={item.name || 'Without a name'}
			note="{item.price.currency ?? items.currency} {item.price.amount} {per[item.price.per]}"
			place="/items/list/{i}"
			part={item.key}
			at={i}
			of={items.list.length}
			onmove={(step) => move(items.list, i, step)}
			onremove={() => editor.remove(item.name, () => items.list.splice(i, 1))}
		>
			<div class="two">
				<Field label="Name"><input class="input" bind:value={item.name} maxlength="200" /></Field>
				<Field label="Heading it stands under"
					><input
						class="input"
						value={item.group ?? ''}
						oninput={(e) => (item.group = text(e))}
						maxlength="100"
					/></Field
				>
			</div>
			<Field label="Text"
				><input
					class="input"
					value={item.text ?? ''}
					oninput={(e) => (item.text = text(e))}
					maxlength="1000"
				/></Field
			>
			{@render charge(item.price)}
			<div class="four">
				<Field label="At least"
					><input
						class="input"
						type="number"
						min="1"
						value={item.min ?? ''}
						oninput={(e) => (item.min = whole(e))}
					/></Field
				>
				<Field label="At most"
					><input
						class="input"
						type="number"
						min="1"
						value={item.max ?? ''}
						oninput={(e) => (item.max = whole(e))}
					/></Field
				>
				{#if items.tax}<Field label="Other tax, in percent"
						><input class="input" value={item.tax ?? ''} oninput={(e) => (item.tax = text(e))} /></Field
					>{/if}
				<label class="tick"
					><input
						type="checkbox"
						class="checkbox"
						checked={item.default ?? false}
						onchange={(e) => (item.default = e.currentTarget.checked || undefined)}
					/> picked by itself</label
				>
			</div>
			<PictureField label="Picture" value={item.picture} onpicture={(uri) => (item.picture = uri)} />
			{#if items.list.length > 1}
				<Ticks
					label="These do as well in its place"
					hint="Those who decide see what the cheapest of them would cost. None: nothing replaces it."
					none=""
					things={items.list.filter((other) => other.key !== item.key)}
					list={item.instead}
					field="instead"
					onlist={(list) => (item.instead = list)}
				/>
				<Found place="/items/list/{i}/instead" />
			{/if}
			{#each item.options ?? [] as group, g (group.key)}
				<fieldset class="block">
					<legend class="caption">A choice within it</legend>
					<div class="line">
						<input class="input" bind:value={group.name} aria-label="What is chosen" />
						<label class="tick"
							><input
								type="checkbox"
								class="checkbox"
								checked={group.require ?? false}
								onchange={(e) => (group.require = e.currentTarget.checked || undefined)}
							/> needed</label
						>
						<button
							class="btn quiet small"
							onclick={() => editor.remove(group.name, () => item.options?.splice(g, 1))}>Remove</button
						>
					</div>
					{#each group.choices as option, o (option.key)}
						<div class="line">
							<input class="input" bind:value={option.name} aria-label="Choice {o + 1} of {group.name}" />
							<input
								class="input mono more"
								placeholder="adds"
								aria-label="{option.name} adds to the price"
								value={option.amount ?? ''}
								oninput={(e) => (option.amount = text(e))}
							/>
							<button class="btn quiet small" onclick={() => group.choices.splice(o, 1)}
								>Remove<span class="sr-only"> {option.name}</span></button
							>
						</div>
					{/each}
					<input
						class="input"
						placeholder="Another choice, then Enter"
						aria-label="Another choice of {group.name}"
						onkeydown={(e) => addOption(e, group)}
					/>
				</fieldset>
			{/each}
			{#each item.discounts ?? [] as discount, d (d)}
				<div class="line">
					From <input
						class="input more"
						type="number"
						min="1"
						bind:value={discount.from}
						aria-label="From how many"
					/>
					on
					<input class="input more" bind:value={discount.percent} aria-label="Percent off" /> % off
					<button class="btn quiet small" onclick={() => item.discounts?.splice(d, 1)}>Remove</button>
				</div>
			{/each}
			<span>
				<button class="btn quiet small" data-do="add-options" onclick={() => addGroup(item)}
					>Add a choice within it</button
				>
				<button
					class="btn quiet small"
					onclick={() => (item.discounts = [...(item.discounts ?? []), { from: 5, percent: '5' }])}
					>Add a discount</button
				>
			</span>
			<details open={Boolean(item.count)}>
				<summary class="caption">How many is counted from answers</summary>
				<Cel
					label="How many {item.name}"
					place="/items/list/{i}/count"
					value={item.count ?? ''}
					onrule={(rule) => (item.count = rule || undefined)}
				/>
				<p class="hint">Such as sum(answers.people.map(p, p.shirts)); the asker then does not type it.</p>
			</details>
			<Found place="/items/list/{i}/count" />
			<Rule
				begins="Can be picked"
				without="by all"
				place="/items/list/{i}/when"
				value={item.when}
				onrule={(rule) => (item.when = rule || undefined)}
			/>
		</Part>
	{/each}
</ol>
<Lines
	side="items"
	label="Another item, or many in lines"
	placeholder="Key fob, 2.00 a month, at most 3"
	button="Add item"
	field="new-item"
	inserts={[{ heading: 'what it costs', words: [', 10.00', ', 10.00 a month', ', 10.00 a year', ', free'] }]}
	examples={[
		'Key fob, 2.00 a month, at most 3',
		'Deck uniform, 145.00, Size: S | M | L +5.00, under Clothes',
		'Cabin, free, when department is Fleet',
		'+ Wall mount, 15.00    an extra of the item before'
	]}
	onadd={add}
/>

<div class="import">
	<input
		id="items-file"
		class="sr-only"
		type="file"
		accept=".csv,text/csv"
		onchange={(e) => {
			void read(e.currentTarget.files?.[0]);
			e.currentTarget.value = '';
		}}
	/>
	<label class="btn plain" for="items-file">Read items from a CSV file</label>
	<span class="hint"
		>Columns: key, name, amount, and as you like per, text, group, min, max, currency, tax.</span
	>
	{#if reading}<p role="status"><progress></progress> Reading {reading} …</p>{/if}
	{#if trouble}<p class="problem">{trouble}</p>{/if}
	{#if imported}
		<div class="read" role="status" data-imported={imported.items.length}>
			{#if imported.problems.length}
				<p>
					<strong>Nothing was brought in.</strong>
					{imported.lines} lines were read; {imported.problems.length + (imported.more ?? 0)} problems:
				</p>
				<ol class="problems">
					{#each imported.problems as p, i (i)}<li>
							Line {p.line}{p.column ? `, ${p.column}` : ''}: {p.sentence}
						</li>{/each}
				</ol>
				{#if imported.more}<p>and {imported.more} more.</p>{/if}
				<button class="btn plain" onclick={() => (imported = undefined)}>Close</button>
			{:else}
				<p>
					{imported.items.length} items are good;
					{imported.items.filter((n) => items.list.some((i) => i.key === n.key)).length} of them take the place
					of items that are here.
				</p>
				<button class="btn do" onclick={bring}>Bring them in</button>
				<button class="btn plain" onclick={() => (imported = undefined)}>Leave it</button>
			{/if}
		</div>
	{/if}
</div>

<h2>Extras</h2>
<p class="hint">Lines of their own below an item they fit, such as a mount.</p>
<ol>
	{#each extras as extra, i (extra.key)}
		<Part
			title={extra.name || 'Without a name'}
			note="{extra.price.currency ?? items.currency} {extra.price.amount} {per[extra.price.per]}"
			place="/items/extras/{i}"
			part={extra.key}
			at={i}
			of={extras.length}
			onmove={(step) => move(extras, i, step)}
			onremove={() => editor.remove(extra.name, () => items.extras?.splice(i, 1))}
		>
			<Field label="Name"><input class="input" bind:value={extra.name} maxlength="200" /></Field>
			{@render charge(extra.price)}
			<Field label="At most"
				><input
					class="input short"
					type="number"
					min="1"
					value={extra.max ?? ''}
					oninput={(e) => (extra.max = whole(e))}
				/></Field
			>
			<fieldset>
				<legend class="caption">Fits</legend>
				{#each items.list as item (item.key)}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={!extra.fits?.length || extra.fits.includes(item.key)}
							onchange={(e) => fits(extra, item.key, e.currentTarget.checked)}
						/>
						{item.name}</label
					>
				{/each}
			</fieldset>
		</Part>
	{/each}
</ol>
<AddLine
	label="Another extra"
	placeholder="What goes with it?"
	button="Add extra"
	field="new-extra"
	onadd={addExtra}
/>

<details
	open={Boolean(
		items.tax ||
		items.tolerance ||
		items.discounts?.length ||
		items.surcharges?.length ||
		items.term ||
		items.company ||
		items.costCentres ||
		items.from
	)}
>
	<summary><h2>The whole price</h2></summary>
	<div class="whole">
		<div class="line">
			<label class="tick"
				><input
					type="checkbox"
					class="checkbox"
					checked={Boolean(items.tax)}
					onchange={(e) => (items.tax = e.currentTarget.checked ? { ...editor.portfolio.tax } : undefined)}
				/> Tax</label
			>
			{#if items.tax}
				<input class="input more" bind:value={items.tax.name} aria-label="Name of the tax" />
				<input class="input more" bind:value={items.tax.percent} aria-label="Tax in percent" /> %
			{/if}
		</div>
		<Found place="/items/tax" />
		<Field
			label="The real cost may be higher by so many per cent"
			hint="More than that is told to who asked and who decided. Tasks ask for it as a sum of money that it really cost."
			><input
				class="input more"
				inputmode="decimal"
				placeholder="0"
				value={items.tolerance ?? ''}
				oninput={(e) => (items.tolerance = text(e))}
				maxlength="10"
				data-field="tolerance"
			/></Field
		>
		<Found place="/items/tolerance" />
		{#each items.discounts ?? [] as discount, i (i)}
			<div class="block">
				<div class="line">
					<input class="input" bind:value={discount.name} aria-label="Name of discount {i + 1}" />
					from
					<input
						class="input more"
						type="number"
						min="1"
						bind:value={discount.from}
						aria-label="From how many together, discount {i + 1}"
					/>
					together
					<input
						class="input more"
						bind:value={discount.percent}
						aria-label="Percent off, discount {i + 1}"
					/>
					% off
					<button
						class="btn quiet small"
						onclick={() => editor.remove(discount.name, () => items.discounts?.splice(i, 1))}>Remove</button
					>
				</div>
				<Ticks
					label="Of these items together"
					none="There are no items yet."
					things={items.list}
					list={discount.items}
					field="discount-item"
					onlist={(list) => (discount.items = list ?? [])}
				/>
				<Found place="/items/discounts/{i}" />
			</div>
		{/each}
		<AddLine
			label="A discount on several items together"
			placeholder="What for?"
			button="Add discount"
			field="new-discount"
			onadd={(words) =>
				(items.discounts = [
					...(items.discounts ?? []),
					{ name: words, from: 10, percent: '5', items: keysOf(items.list) }
				])}
		/>
		{#each items.surcharges ?? [] as surcharge, i (surcharge.key)}
			<div class="block">
				<div class="line">
					<input class="input" bind:value={surcharge.name} aria-label="Name of surcharge {i + 1}" />
					{#if surcharge.fixed}
						<input
							class="input mono more"
							bind:value={surcharge.fixed.amount}
							aria-label="Amount of surcharge {i + 1}"
						/>
						<select
							class="select more"
							bind:value={surcharge.fixed.per}
							aria-label="Due of surcharge {i + 1}"
						>
							{#each Object.entries(per) as [key, words] (key)}<option value={key}>{words}</option>{/each}
						</select>
					{:else}
						<input
							class="input more"
							bind:value={surcharge.percent}
							aria-label="Percent of surcharge {i + 1}"
						/>
						%
					{/if}
					<label class="tick"
						><input
							type="checkbox"
							class="checkbox"
							checked={Boolean(surcharge.fixed)}
							onchange={(e) => {
								surcharge.fixed = e.currentTarget.checked ? { amount: '0', per: 'once' } : undefined;
								surcharge.percent = e.currentTarget.checked ? undefined : '0';
							}}
						/> fixed</label
					>
					<button
						class="btn quiet small"
						onclick={() => editor.remove(surcharge.name, () => items.surcharges?.splice(i, 1))}>Remove</button
					>
				</div>
				<Ticks
					label="Of"
					hint="Everything picked when none is ticked."
					none="There are no items yet."
					things={items.list}
					list={surcharge.items}
					field="surcharge-item"
					onlist={(list) => (surcharge.items = list)}
				/>
				<Rule
					begins="Charged"
					without="always"
					place="/items/surcharges/{i}/when"
					value={surcharge.when}
					onrule={(rule) => (surcharge.when = rule || undefined)}
				/>
				<Found place="/items/surcharges/{i}" />
			</div>
		{/each}
		<AddLine
			label="A surcharge"
			placeholder="What for?"
			button="Add surcharge"
			field="new-surcharge"
			onadd={addSurcharge}
		/>
		<div class="two">
			<Field label="Monthly prices run from">
				<select class="select" value={items.from ?? ''} onchange={(e) => (items.from = text(e))}>
					<option value="">the day they are delivered</option>
					{#each ofKind('date') as q (q.key)}<option value={q.key}>{q.label}</option>{/each}
				</select>
			</Field>
			<Field label="Kept for so many months">
				<select
					class="select"
					value={items.term?.question ?? (items.term ? 'fixed' : '')}
					onchange={(e) => {
						const v = e.currentTarget.value;
						items.term = v === '' ? undefined : v === 'fixed' ? { months: 12 } : { question: v };
					}}
				>
					<option value="">no end</option>
					<option value="fixed">always the same</option>
					{#each ofKind('number') as q (q.key)}<option value={q.key}>as answered: {q.label}</option>{/each}
				</select>
			</Field>
			{#if items.term && !items.term.question}<Field label="Months"
					><input class="input" type="number" min="1" max="600" bind:value={items.term.months} /></Field
				>{/if}
		</div>
		<div class="line">
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
					class="input more"
					bind:value={items.company.percent}
					aria-label="The company pays, in percent"
				/>
				% but at most
				<input
					class="input more"
					placeholder="once"
					aria-label="At most once"
					value={items.company.once ?? ''}
					oninput={(e) => items.company && (items.company.once = text(e))}
				/>
				<input
					class="input more"
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
				{#each [...ofKind('costCentre'), ...ofKind('table')] as q (q.key)}<option value={q.key}
						>{q.label}</option
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
						{#each (sharing.columns ?? []).filter((c) => c.kind === 'number') as c (c.key)}<option
								value={c.key}>{c.label}</option
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
	</div>
</details>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 0.75rem;
	}
	.four {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(8.5rem, 1fr));
		gap: 0.75rem;
		align-items: end;
	}
	.short {
		width: 6rem;
	}
	.more {
		width: 6rem;
	}
	.line {
		display: flex;
		flex-wrap: wrap;
		gap: 0.5rem;
		align-items: center;
	}
	.block {
		border-left: 3px solid var(--line-strong);
		padding-left: 0.6rem;
		display: grid;
		gap: 0.3rem;
	}
	.read {
		border-left: 4px solid var(--brass);
		padding: 0.4rem 0.75rem;
		margin-top: 0.5rem;
	}
	.problems {
		font-size: 0.875rem;
	}
	.whole {
		display: grid;
		gap: 0.8rem;
	}
	summary h2 {
		display: inline;
	}
	.sr-only:focus-visible + .btn {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
</style>
