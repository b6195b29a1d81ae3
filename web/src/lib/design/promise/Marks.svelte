<!-- The marks of the promise: at which share of it who is told, and what goes up. -->
<script lang="ts">
	import type { Schema } from '$lib/api/client';
	import Field from '$lib/ui/Field.svelte';
	import PersonField from '../PersonField.svelte';
	import { getEditor } from '../editor.svelte';
	import Found from '../Found.svelte';
	import Ticks from '../Ticks.svelte';
	import { markWords, toldNames } from './words';
	import Heading from './Heading.svelte';

	type Mark = Schema['PromiseMark'];
	const editor = getEditor();
	const promise = $derived(editor.document.promise);
	const marks = $derived(promise.marks ?? []);
	const told = Object.entries(toldNames).map(([key, name]) => ({ key, name }));
	/** Which stands open; the others say in a line what they do. */
	let open = $state(-1);

	function add() {
		promise.marks = [...marks, { share: 80, tell: ['holder'] }];
		open = promise.marks.length - 1;
	}
	function remove(i: number) {
		editor.remove(`The mark at ${marks[i]?.share} %`, () => {
			promise.marks?.splice(i, 1);
			if (!promise.marks?.length) promise.marks = undefined;
			open = -1;
		});
	}
	const people = (mark: Mark, logins: string[]) => (mark.people = logins.length ? logins : undefined);
</script>

<Heading>Marks on the way</Heading>
<p class="soft">
	At a share of the promised time somebody is told, in time to do something. That it is missed, who has it and
	who answers for it hear in any case; a mark at 100 % says otherwise.
</p>
{#each marks as mark, i (i)}
	<div class="one" data-mark={i}>
		<div class="head">
			<span><strong>{mark.share} %</strong> {markWords(mark, (login) => editor.person(login) || login)}</span>
			<span>
				<button
					class="btn quiet small"
					aria-expanded={open === i}
					onclick={() => (open = open === i ? -1 : i)}>{open === i ? 'Done' : 'Change'}</button
				>
				<button class="btn quiet small" onclick={() => remove(i)}>Remove</button>
			</span>
		</div>
		{#if open === i}
			<div class="inner">
				<div class="pair">
					<Field label="Per cent of the promised time">
						<input
							class="input"
							type="number"
							min="1"
							max="500"
							value={mark.share}
							oninput={(e) =>
								Number.isInteger(e.currentTarget.valueAsNumber) &&
								(mark.share = e.currentTarget.valueAsNumber)}
							data-field="mark-share"
						/>
					</Field>
					<Field label="Of">
						<select
							class="select"
							value={mark.clock || 'fulfilment'}
							onchange={(e) => (mark.clock = e.currentTarget.value === 'response' ? 'response' : undefined)}
							data-field="mark-clock"
						>
							<option value="fulfilment">the delivery</option>
							<option value="response">the first word</option>
						</select>
					</Field>
				</div>
				<Ticks
					label="Who is told"
					none=""
					things={told}
					list={mark.tell}
					field="mark-tell"
					onlist={(list) => (mark.tell = list as Mark['tell'])}
				/>
				{#each mark.people ?? [] as login, j (login)}
					<p>
						{editor.person(login) || login}
						<button
							class="btn quiet small"
							onclick={() =>
								people(
									mark,
									(mark.people ?? []).filter((other) => other !== login)
								)}>Take out</button
						>
						<Found place="/promise/marks/{i}/people/{j}" />
					</p>
				{/each}
				<Field label="And somebody by name">
					<PersonField
						label="And somebody by name"
						login={undefined}
						field="mark-person"
						onlogin={(login) =>
							login && !mark.people?.includes(login) && people(mark, [...(mark.people ?? []), login])}
					/>
				</Field>
				<Field label="What they read" hint="How much is used and left always stands before it.">
					<input
						class="input"
						value={mark.text ?? ''}
						oninput={(e) => (mark.text = e.currentTarget.value || undefined)}
						maxlength="1000"
						data-field="mark-text"
					/>
				</Field>
				<label class="tick"
					><input
						type="checkbox"
						class="checkbox"
						checked={mark.handUp ?? false}
						onchange={(e) => (mark.handUp = e.currentTarget.checked || undefined)}
						data-field="mark-up"
					/> what nobody has taken goes to the next team upward</label
				>
			</div>
		{/if}
		{#each ['share', 'clock', 'tell'] as part (part)}<Found place="/promise/marks/{i}/{part}" />{/each}
	</div>
{/each}
<p>
	<button class="btn plain" onclick={add} disabled={marks.length >= 20} data-field="new-mark">Add mark</button
	>
</p>

<style>
	.one {
		padding-block: 0.5rem;
		border-bottom: 1px solid var(--line);
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.25rem 1rem;
	}
	.inner {
		display: grid;
		gap: 0.6rem;
		padding: 0.5rem 0 0.5rem 1rem;
	}
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
	.tick .checkbox {
		flex: none;
	}
</style>
