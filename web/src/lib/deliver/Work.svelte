<!-- What the work of a task consists of: points, lines, what comes out of it, a closing word. -->
<script lang="ts">
	import { api, unwrap, type Schema } from '$lib/api/client';
	import type { Act } from '$lib/ui/act.svelte';
	import DateField from '$lib/ui/DateField.svelte';
	import Field from '$lib/ui/Field.svelte';
	import { money, per } from '$lib/words';
	import { typed } from './typed.svelte';

	type Props = { task: Schema['TaskSheet']; act: Act; path: { request: string; task: string } };
	let { task, act, path }: Props = $props();
	const params = $derived({ path });
	const mine = $derived(typed.of(path));
	const type = (change: typeof mine) => typed.set(path, change);
	const may = (deed: (typeof task.allowed)[number]) => task.allowed.includes(deed);
	const wanted = $derived(may('complete') && !task.undo ? task.wanted : []);
	const problemAt = (place: string) => act.problem?.errors?.find((e) => e.place === place)?.sentence;
	const tick = (point: number, done: boolean) =>
		act.run(() => unwrap(api.POST('/api/tasks/{request}/{task}/points', { params, body: { point, done } })));
	const count = (line: number, done: number) =>
		act.run(() => unwrap(api.POST('/api/tasks/{request}/{task}/lines', { params, body: { line, done } })));
</script>

{#if task.mustDos.length && !task.undo}
	<ul class="points">
		{#each task.mustDos as point, i (i)}
			<li>
				<label
					><input
						type="checkbox"
						class="checkbox"
						checked={point.done}
						disabled={!may('check') || act.running}
						onchange={(e) => tick(i, e.currentTarget.checked)}
						data-point={i}
					/>
					{point.text}</label
				>
			</li>
		{/each}
	</ul>
{/if}
{#if task.lines.length}
	<table class="lines">
		<tbody>
			{#each task.lines as line, i (i)}
				<tr>
					<th scope="row">{line.name}</th>
					<td
						><input
							class="input"
							type="number"
							min="0"
							max={line.of}
							value={line.done}
							disabled={!may('count')}
							aria-label="How many of {line.name} are done"
							onchange={(e) => count(i, Number(e.currentTarget.value))}
							data-line={i}
						/>
						of {line.of}</td
					>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
{#if may('complete')}
	{#if task.expected}
		<div class="expected" data-expected>
			<strong>Expected to cost {money(task.expected.once)} once</strong>
			<ul>
				{#each task.expected.lines as line, i (i)}
					<li class="small">
						{(line.quantity ?? 0) > 1 ? `${line.quantity} × ` : ''}{line.name}{#if line.unit}<span
								class="soft">&nbsp;by the {line.unit}</span
							>{/if}
						<span class="mono">{money(line.sum)} {per[line.per]}</span>
					</li>
				{/each}
			</ul>
		</div>
	{/if}
	{#each wanted as output (output.key)}
		<Field
			label="{output.name}{output.free ? ' (if there is one)' : ''}"
			problem={problemAt(`/outputs/${output.key}`)}
		>
			{#if output.kind === 'file'}
				<select
					class="select"
					bind:value={
						() => mine.outputs?.[output.key] ?? output.value ?? '',
						(v) => type({ outputs: { ...mine.outputs, [output.key]: v } })
					}
					data-output-field={output.key}
				>
					<option value="">{task.files.length ? 'Choose a file' : 'Add the file below first'}</option>
					{#each task.files as file (file.id)}<option value={file.id}>{file.name}</option>{/each}
				</select>
			{:else if output.kind === 'date'}
				<DateField
					value={mine.outputs?.[output.key] ?? output.value ?? ''}
					label={output.name}
					control={{ 'data-output-field': output.key }}
					onday={(day) => type({ outputs: { ...mine.outputs, [output.key]: day ?? '' } })}
				/>
			{:else}
				<input
					class="input"
					inputmode={output.kind === 'money' || output.kind === 'number' ? 'decimal' : undefined}
					bind:value={
						() => mine.outputs?.[output.key] ?? output.value ?? '',
						(v) => type({ outputs: { ...mine.outputs, [output.key]: v } })
					}
					data-output-field={output.key}
				/>
			{/if}
		</Field>
	{/each}
	{#if !task.undo}
		<Field label="A closing word to {task.asker}, if you like">
			<input
				class="input"
				bind:value={() => mine.word ?? '', (word) => type({ word })}
				maxlength="2000"
				data-field="closing"
			/>
		</Field>
	{/if}
{/if}

<style>
	.points label {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		padding-block: 0.15rem;
	}
	.lines th {
		text-align: left;
		font-weight: 500;
		padding-right: 1rem;
	}
	.lines .input {
		width: 5rem;
		display: inline-block;
	}
	.expected {
		border-left: 4px solid var(--line-strong);
		padding-left: 0.75rem;
	}
</style>
