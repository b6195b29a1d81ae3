<!-- What each would see at the instant one looks at, and acting in their place: that becomes part of the script. -->
<script lang="ts">
	import Answers from '$lib/ui/Answers.svelte';
	import { at, list } from '$lib/words';
	import { getRehearsal, type Line } from './rehearsal.svelte';
	const rehearsal = getRehearsal();

	const moment = $derived(rehearsal.moment);
	const decision = $derived(moment?.decision);
	let said = $state('');
	const act = (line: Omit<Line, 'at'>) => {
		rehearsal.act(line);
		said = '';
	};
	type Do = NonNullable<Line['do']>;
	const words = $derived(said.trim());
	/** Who does what is to be done: who has it, else the first of the team. */
	const doer = (task: NonNullable<typeof moment>['tasks'][number]) => task.holder ?? task.members[0];
</script>

{#if moment}
	<div class="say">
		<label for="rehearsed-words" class="small">What they say, where it is needed</label>
		<input
			id="rehearsed-words"
			class="input"
			bind:value={said}
			maxlength="400"
			placeholder="Too dear."
			data-field="said"
		/>
	</div>
	{#if decision}
		<section data-decision={decision.rung}>
			<p class="fact">As {list.format(decision.waiting.map((w) => w.name))} would see it</p>
			<h2>{decision.name}</h2>
			{#if decision.say}<p>{decision.say}</p>{/if}
			<p class="small soft">
				{#if decision.price}{decision.price}.{/if}
				{#if decision.until}To be decided until {at(decision.until)}.{/if}
			</p>
			<Answers answers={decision.answers} />
			{#each decision.waiting as person (person.key)}
				<p class="acts">
					<span class="small">{person.name}:</span>
					<button
						class="btn plain small"
						onclick={() => act({ who: person.key ?? '', do: 'approve', rung: decision.rung })}
						>Approves</button
					>
					<button
						class="btn plain small"
						data-act="decline"
						onclick={() =>
							act({ who: person.key ?? '', do: 'decline', rung: decision.rung, reason: words || 'Not now.' })}
						>Declines</button
					>
					<button
						class="btn plain small"
						onclick={() =>
							act({
								who: person.key ?? '',
								do: 'askBack',
								rung: decision.rung,
								text: words || 'What is it for?'
							})}>Asks a question back</button
					>
				</p>
			{/each}
		</section>
	{/if}
	{#each moment.tasks as task (task.key)}
		{@const who = doer(task)}
		<section data-task={task.key}>
			<p class="fact">As {task.team || 'a system'} would see it</p>
			<h2>
				{task.name}
				<span class="soft small"
					>{task.state}{#if task.holder}, with {task.holder.name}{/if}</span
				>
			</h2>
			{#if task.instructions}<p>{task.instructions}</p>{/if}
			{#if task.trouble}<p class="problem small">{task.trouble}</p>{/if}
			{#if task.due || task.latestStart}<p class="small soft">
					{#if task.due}Due {at(task.due)}.{/if}
					{#if task.latestStart}To begin by {at(task.latestStart)} at the latest.{/if}
				</p>{/if}
			{#each task.mustDos as point (point)}<p class="small">☐ {point}</p>{/each}
			{#if task.answers.length}<Answers answers={task.answers} />{/if}
			{#if who && task.kind === 'manual'}
				<p class="acts">
					<span class="small">{who.name}:</span>
					{#each [['complete', 'Done'], ['stuck', 'Stuck'], ['ask', 'Asks the asker']] as const as [what, label] (what)}
						<button
							class="btn plain small"
							onclick={() =>
								act({
									who: who.key ?? '',
									do: what as Do,
									task: task.key,
									...(what === 'stuck' ? { reason: words || 'Something is missing.' } : {}),
									...(what === 'ask' ? { text: words || 'Is this still how you want it?' } : {})
								})}>{label}</button
						>
					{/each}
				</p>
			{/if}
		</section>
	{/each}
	<section>
		<p class="fact">As the asker would see it</p>
		{#if moment.question}<p>They are asked: <q>{moment.question}</q></p>{/if}
		<ol class="story">
			{#each moment.history.slice(-4) as entry, i (i)}<li class="small">
					<span class="soft mono">{at(entry.at)}</span>
					{entry.actor ? `${entry.actor}: ` : ''}{entry.sentence}{#if entry.remark}. <q>{entry.remark}</q
						>{/if}
				</li>{/each}
		</ol>
		<p class="acts">
			<span class="small">The asker:</span>
			{#if moment.status === 'returned' || moment.status === 'waiting'}<button
					class="btn plain small"
					onclick={() => act({ who: 'asker', do: 'answer', text: words || 'As I wrote it.' })}>Answers</button
				>{/if}
			{#if moment.status === 'delivered'}<button
					class="btn plain small"
					onclick={() => act({ who: 'asker', do: 'confirm' })}>Confirms</button
				>{/if}
			{#if moment.status === 'delivered' || moment.status === 'closed'}<button
					class="btn plain small"
					onclick={() => act({ who: 'asker', do: 'sendBack', text: words || 'It is not what I asked for.' })}
					>Sends it back</button
				>{/if}
			{#if moment.status !== 'closed' && moment.status !== 'delivered'}<button
					class="btn plain small"
					onclick={() => act({ who: 'asker', do: 'withdraw', reason: words })}>Takes it back</button
				>{/if}
		</p>
	</section>
{/if}

<style>
	section {
		border-top: 1px solid var(--line);
		padding: 0.5rem 0 0.6rem;
	}
	.say {
		display: grid;
		grid-template-columns: auto minmax(0, 1fr);
		gap: 0.6rem;
		align-items: center;
		margin-bottom: 0.5rem;
	}
	.acts {
		display: flex;
		flex-wrap: wrap;
		gap: 0.35rem;
		align-items: center;
		margin-top: 0.35rem;
	}
	.story {
		list-style: none;
		padding: 0;
	}
	.story li {
		padding: 0.1rem 0;
	}
</style>
