<!-- Items to pick, under their headings: quantity, options, and the extras that fit. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { byThe, money, per } from '$lib/words';
	import type { Field, Head, PickedItem, Question } from './tools';

	type Item = Schema['PriceItem'];
	type Props = {
		question: Question;
		result: Field;
		head: Head;
		picks: PickedItem[];
		onanswer: (value: unknown) => void;
	};
	let { question, result, head, picks, onanswer }: Props = $props();

	const offered = $derived(
		(question.items ?? [])
			.filter((key) => !result.choices || result.choices.includes(key))
			.flatMap((key) => head.items.find((i) => i.key === key) ?? [])
	);
	const groups = $derived([...new Set(offered.map((i) => i.group ?? ''))]);
	const single = $derived(question.maxCount === 1);
	const fitting = (item: Item) => head.extras.filter((x) => !x.fits?.length || x.fits.includes(item.key));
	const price = (charge: Schema['PriceCharge']) =>
		`${money({ amount: charge.amount, currency: charge.currency ?? head.currency })} ${byThe(charge.unit)}${per[charge.per]}`;
	const of = (item: Item) => picks.map((pick, n) => ({ pick, n })).filter((p) => p.pick.item === item.key);

	function add(item: Item) {
		const pick: PickedItem = { item: item.key, quantity: item.min ?? 1 };
		onanswer(single ? [pick] : [...picks, pick]);
	}
	const drop = (item: Item) => onanswer(picks.filter((p) => p.item !== item.key));
	const dropOne = (n: number) => onanswer(picks.filter((_, i) => i !== n));
	const change = (n: number, part: Partial<PickedItem>) =>
		onanswer(picks.map((p, i) => (i === n ? { ...p, ...part } : p)));
	function extra(n: number, pick: PickedItem, key: string, quantity: number) {
		const others = (pick.extras ?? []).filter((x) => x.extra !== key);
		change(n, { extras: quantity > 0 ? [...others, { extra: key, quantity }] : others });
	}
	const whole = (e: Event) => Math.trunc((e.currentTarget as HTMLInputElement).valueAsNumber);
</script>

{#each groups as group (group)}
	{#if group}<p class="group eyebrow">{group}</p>{/if}
	<ul class="items">
		{#each offered.filter((i) => (i.group ?? '') === group) as item (item.key)}
			{@const mine = of(item)}
			<li class:picked={mine.length > 0} data-item={item.key}>
				<label>
					<input
						type={single ? 'radio' : 'checkbox'}
						class={single ? 'radio' : 'checkbox'}
						name="items-{question.key}"
						value={item.key}
						checked={mine.length > 0}
						onchange={(e) => (e.currentTarget.checked ? add(item) : drop(item))}
					/>
					{#if item.picture}<img src={item.picture} alt="" />{/if}
					<span>
						<strong>{item.name}</strong>
						{#if item.text}<span class="hint">{item.text}</span>{/if}
					</span>
				</label>
				<span class="mono price">{price(item.price)}</span>
				{#each mine as { pick, n } (n)}
					<div class="pick">
						{#if item.count}
							{@const counted = (result.value as PickedItem[] | null)?.find((p) => p.item === item.key)}
							<p class="how soft" data-counted>
								{counted
									? `${counted.quantity}, counted from other answers`
									: 'How many is counted from other answers'}
							</p>
						{:else if item.max !== 1}
							<label class="how"
								>How many{item.price.unit ? ` (${item.price.unit})` : ''}
								<input
									class="input quantity"
									type="number"
									min={item.min}
									max={item.max}
									aria-label="How many: {item.name}"
									value={pick.quantity}
									oninput={(e) => whole(e) > 0 && change(n, { quantity: whole(e) })}
								/></label
							>
						{/if}
						{#each item.options ?? [] as choice (choice.key)}
							<label class="how"
								>{choice.name}{#if choice.require}<span class="soft"> (needed)</span>{/if}
								<select
									class="select"
									value={pick.options?.[choice.key] ?? ''}
									onchange={(e) =>
										change(n, { options: { ...pick.options, [choice.key]: e.currentTarget.value } })}
									data-option={choice.key}
								>
									<option value="">—</option>
									{#each choice.choices as o (o.key)}<option value={o.key}
											>{o.name}{o.amount && Number(o.amount)
												? ` (+ ${money({ amount: o.amount, currency: item.price.currency ?? head.currency })})`
												: ''}</option
										>{/each}
								</select></label
							>
						{/each}
						{#if fitting(item).length}
							<div class="extras" role="group" aria-label="Extras for {item.name}">
								{#each fitting(item) as x (x.key)}
									{@const has = pick.extras?.find((e) => e.extra === x.key)}
									<label class="how extra">
										<input
											type="checkbox"
											class="checkbox"
											checked={Boolean(has)}
											onchange={(e) => extra(n, pick, x.key, e.currentTarget.checked ? 1 : 0)}
											data-extra={x.key}
										/>
										<span>{x.name} <span class="mono soft small">{price(x.price)}</span></span>
										{#if has && x.max !== 1}<input
												class="input quantity"
												type="number"
												min="1"
												max={x.max}
												aria-label="How many: {x.name}"
												value={has.quantity}
												oninput={(e) => whole(e) > 0 && extra(n, pick, x.key, whole(e))}
											/>{/if}
									</label>
								{/each}
							</div>
						{/if}
						{#if mine.length > 1}<button type="button" class="btn quiet small" onclick={() => dropOne(n)}
								>Without this one</button
							>{/if}
					</div>
				{/each}
				{#if mine.length > 0 && item.options?.length && !single}
					<button type="button" class="btn quiet small more" onclick={() => add(item)}
						>One more, with other options</button
					>
				{/if}
			</li>
		{/each}
	</ul>
{:else}
	<p class="hint">Nothing can be picked here as things are.</p>
{/each}

<style>
	.group {
		margin-top: 0.6rem;
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		gap: 0.2rem 0.75rem;
		align-items: start;
		padding: 0.4rem 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	li:first-child {
		border-top: 1px solid var(--line);
	}
	li.picked {
		background: var(--sound-wash);
	}
	li > label {
		display: flex;
		gap: 0.5rem;
		align-items: flex-start;
	}
	img {
		width: 3.5rem;
		height: 3.5rem;
		object-fit: contain;
	}
	.radio,
	.checkbox {
		margin-top: 0.2rem;
		flex: none;
	}
	.hint {
		display: block;
	}
	.price {
		text-align: right;
		padding-top: 0.1rem;
	}
	.pick {
		grid-column: 1 / -1;
		display: flex;
		flex-wrap: wrap;
		gap: 0.3rem 1.2rem;
		align-items: center;
		padding-left: 1.6rem;
	}
	.how {
		display: flex;
		gap: 0.4rem;
		align-items: center;
		font-size: 0.875rem;
	}
	.how .select {
		width: auto;
		min-height: 2rem;
		padding-block: 0.1rem;
	}
	.quantity {
		width: 4.5rem;
		min-height: 2rem;
		padding-block: 0.1rem;
	}
	.extras {
		display: grid;
		gap: 0.1rem;
		width: 100%;
		border-left: 2px solid var(--sound);
		padding-left: 0.6rem;
	}
	.more {
		grid-column: 1 / -1;
		justify-self: start;
		margin-left: 1.2rem;
		font-weight: 400;
	}
</style>
