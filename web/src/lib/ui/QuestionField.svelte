<!-- One question with the control of its kind. Its problems stand under it. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import { money, per } from '$lib/words';

	type Pick = { item: string; quantity: number };
	type Props = {
		question: Schema['FormQuestion'];
		result: Schema['FormQuestionResult'];
		items: Schema['PriceItem'][];
		currency: string;
		value: unknown;
		problems: string[];
		onanswer: (value: unknown) => void;
		onleave: () => void;
	};
	let { question, result, items, currency, value, problems, onanswer, onleave }: Props = $props();

	const id = $derived(`q-${question.key}`);
	const described = $derived(
		[question.help ? `${id}-help` : '', problems.length ? `${id}-problems` : ''].join(' ').trim() || undefined
	);
	const invalid = $derived(problems.length > 0);
	const single = $derived(['text', 'longText', 'number', 'date'].includes(question.kind));
	/** What every control of a single value carries. */
	const control = $derived({
		id: `${id}-field`,
		'aria-required': result.required,
		'aria-invalid': invalid,
		'aria-describedby': described
	});
	const text = $derived(value === undefined || value === null ? '' : String(value));
	const chosen = $derived(Array.isArray(value) ? (value as string[]) : []);
	const picks = $derived(Array.isArray(value) ? (value as Pick[]) : []);
	const offered = $derived(items.filter((i) => question.items?.includes(i.key)));

	const typed = (e: Event) => onanswer((e.currentTarget as HTMLInputElement).value);
	function number(e: Event) {
		const field = e.currentTarget as HTMLInputElement;
		onanswer(field.value === '' ? null : field.valueAsNumber);
	}
	function toggle(key: string, on: boolean) {
		onanswer(on ? [...chosen, key] : chosen.filter((k) => k !== key));
	}
	function pick(key: string, quantity: number) {
		const others = picks.filter((p) => p.item !== key);
		onanswer(quantity > 0 ? [...others, { item: key, quantity }] : others);
	}
	const quantityOf = (key: string) => picks.find((p) => p.item === key)?.quantity ?? 0;
	function left(e: FocusEvent) {
		const here = e.currentTarget as HTMLElement;
		if (!here.contains(e.relatedTarget as Node | null)) onleave();
	}
</script>

{#snippet words()}
	{question.label}{#if result.required}<span class="needed"> needed</span>{/if}
{/snippet}

<div class="question" {id} data-question={question.key} onfocusout={left} role="presentation">
	{#if single}
		<label class="ask" for="{id}-field">{@render words()}</label>
	{/if}
	<svelte:element
		this={single ? 'div' : 'fieldset'}
		aria-describedby={single ? undefined : described}
		aria-invalid={!single && invalid ? 'true' : undefined}
		role={single
			? undefined
			: question.kind === 'choices' || question.kind === 'items'
				? 'group'
				: 'radiogroup'}
	>
		{#if !single}
			<legend class="ask">{@render words()}</legend>
		{/if}
		{#if question.help}<p class="hint" id="{id}-help">{question.help}</p>{/if}

		{#if question.kind === 'text'}
			<input class="input" value={text} oninput={typed} {...control} />
		{:else if question.kind === 'longText'}
			<textarea class="textarea" rows="3" value={text} oninput={typed} {...control}></textarea>
		{:else if question.kind === 'number'}
			<input class="input short" type="number" step="any" value={text} oninput={number} {...control} />
		{:else if question.kind === 'date'}
			<input class="input short" type="date" value={text} oninput={typed} {...control} />
		{:else if question.kind === 'yesNo'}
			<div class="choices row">
				{#each [true, false] as answer (answer)}
					<label>
						<input
							type="radio"
							class="radio"
							name={id}
							checked={value === answer}
							onchange={() => onanswer(answer)}
						/>
						{answer ? 'Yes' : 'No'}
					</label>
				{/each}
			</div>
		{:else if question.kind === 'choice'}
			<div class="choices" class:row={(question.choices ?? []).length <= 4}>
				{#each question.choices ?? [] as option (option.key)}
					<label>
						<input
							type="radio"
							class="radio"
							name={id}
							value={option.key}
							checked={value === option.key}
							onchange={() => onanswer(option.key)}
						/>
						{option.label}
					</label>
				{/each}
			</div>
		{:else if question.kind === 'choices'}
			<div class="choices">
				{#each question.choices ?? [] as option (option.key)}
					<label>
						<input
							type="checkbox"
							class="checkbox"
							value={option.key}
							checked={chosen.includes(option.key)}
							onchange={(e) => toggle(option.key, e.currentTarget.checked)}
						/>
						{option.label}
					</label>
				{/each}
			</div>
		{:else if question.kind === 'items'}
			<ul class="items">
				{#each offered as item (item.key)}
					<li class:picked={quantityOf(item.key) > 0}>
						<label>
							<input
								type="checkbox"
								class="checkbox"
								value={item.key}
								checked={quantityOf(item.key) > 0}
								onchange={(e) => pick(item.key, e.currentTarget.checked ? 1 : 0)}
							/>
							<span>
								<strong>{item.name}</strong>
								{#if item.text}<span class="hint">{item.text}</span>{/if}
							</span>
						</label>
						{#if quantityOf(item.key) > 0}
							<input
								class="input quantity"
								type="number"
								min="1"
								max="1000"
								aria-label="How many: {item.name}"
								value={quantityOf(item.key)}
								oninput={(e) =>
									e.currentTarget.valueAsNumber > 0 &&
									pick(item.key, Math.trunc(e.currentTarget.valueAsNumber))}
							/>
						{/if}
						<span class="mono price"
							>{money({ amount: item.price.amount, currency })}
							<span class="soft">{per[item.price.per]}</span></span
						>
					</li>
				{/each}
			</ul>
		{/if}
	</svelte:element>
	<div id="{id}-problems" aria-live="polite">
		{#each problems as problem, i (i)}
			<p class="problem small">{problem}</p>
		{/each}
	</div>
</div>

<style>
	.question {
		padding-block: 0.7rem;
		scroll-margin-top: 4rem;
	}
	.ask {
		font-weight: 600;
		display: block;
		margin-bottom: 0.25rem;
	}
	.needed {
		font-weight: 400;
		font-size: 0.8125rem;
		color: var(--ink-soft);
		border-bottom: 2px solid var(--brass);
		margin-left: 0.35rem;
	}
	.hint {
		display: block;
		margin-bottom: 0.3rem;
	}
	.short {
		max-width: 12rem;
	}
	.choices {
		display: grid;
		gap: 0.15rem;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 0.15rem 1.4rem;
	}
	.choices label,
	.items label {
		display: flex;
		gap: 0.5rem;
		align-items: flex-start;
		padding-block: 0.15rem;
	}
	.radio,
	.checkbox {
		margin-top: 0.2rem;
		flex: none;
		box-shadow: inset 0 0 0 1px var(--line-strong);
	}
	.items li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto 9.5rem;
		gap: 0.75rem;
		align-items: center;
		padding: 0.35rem 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	.items li:first-child {
		border-top: 1px solid var(--line);
	}
	.items li.picked {
		background: var(--sound-wash);
	}
	.items .hint {
		margin: 0;
	}
	.quantity {
		width: 5rem;
		min-height: 2rem;
		padding-block: 0.2rem;
	}
	.price {
		grid-column: 3;
		text-align: right;
	}
	@media (max-width: 600px) {
		.items li {
			grid-template-columns: minmax(0, 1fr) auto;
		}
		.price {
			grid-column: 1 / -1;
		}
	}
</style>
