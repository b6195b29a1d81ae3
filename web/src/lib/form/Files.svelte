<!-- Files by drag, paste or picker, with their progress. -->
<script lang="ts">
	import { FileUpload } from '@skeletonlabs/skeleton-svelte';
	import type { Problem } from '$lib/api/client';
	import Progress from '$lib/ui/Progress.svelte';
	import { list } from '$lib/words';
	import { getTools, size, type Head, type Question, type Upload } from './tools';

	type Props = {
		question: Question;
		head: Head;
		path: string;
		files: Upload[];
		onanswer: (value: unknown) => void;
	};
	let { question, head, path, files, onanswer }: Props = $props();
	const tools = getTools();

	type Under = { name: string; share: number };
	let under = $state<Under[]>([]);
	let troubles = $state<string[]>([]);
	let notices = $state<string[]>([]);
	const most = $derived(question.maxCount ?? 1);
	/** What is taken, in words. */
	const kinds = $derived(
		(question.fileTypes ?? []).map((t) => head.fileKinds?.find((k) => k.key === t)?.name ?? t)
	);

	async function take(list: FileList | File[] | undefined) {
		troubles = [];
		notices = [];
		const chosen = [...(list ?? [])];
		const room = most - files.length - under.length;
		if (chosen.length > room) troubles.push(`At most ${most} files can be added here.`);
		let kept = files;
		await Promise.all(
			chosen.slice(0, Math.max(0, room)).map(async (file) => {
				if (question.maxSize && file.size > question.maxSize * 1000) {
					troubles.push(`${file.name} is larger than ${size(question.maxSize * 1000)}.`);
					return;
				}
				under.push({ name: file.name, share: 0 });
				const here = under[under.length - 1];
				try {
					const upload = await tools?.upload(path, file, (share) => here && (here.share = share));
					if (upload) {
						kept = [...kept, upload];
						onanswer(kept);
						if (upload.name !== file.name)
							notices.push(`${file.name} is kept as ${upload.name}, as its content is.`);
					}
				} catch (refused) {
					troubles.push((refused as Problem).detail);
				} finally {
					under = under.filter((u) => u !== here);
				}
			})
		);
	}
	function pasted(e: ClipboardEvent) {
		if (e.clipboardData?.files.length) {
			e.preventDefault();
			void take(e.clipboardData.files);
		}
	}
</script>

<div class="files" role="group" aria-label={question.label} onpaste={pasted}>
	{#if files.length}
		<ul>
			{#each files as file (file.id)}
				<li>
					<span>{file.name} <span class="soft small">{size(file.size)}</span></span>
					<button
						type="button"
						class="btn quiet small"
						onclick={() => onanswer(files.filter((f) => f.id !== file.id))}
						>Remove<span class="sr-only"> {file.name}</span></button
					>
				</li>
			{/each}
		</ul>
	{/if}
	{#each under as file, i (i)}
		<p class="small">{file.name} <Progress label="Sending {file.name}" share={file.share} /></p>
	{/each}
	{#if tools}
		<FileUpload maxFiles={1000} acceptedFiles={[]} onFileAccept={(now) => void take(now.files)}>
			<FileUpload.Dropzone class="drop" disableClick>
				<FileUpload.Trigger class="btn plain">Choose a file</FileUpload.Trigger>
				<span class="hint">or drop it here, or paste it</span>
				<FileUpload.HiddenInput multiple={most > 1} accept={question.fileTypes?.join(',')} />
			</FileUpload.Dropzone>
		</FileUpload>
		{#if kinds.length}<p class="taken hint">
				Taken: {list.format(kinds)}{question.maxSize
					? `, up to ${size(question.maxSize * 1000)} each`
					: ''}{most > 1 ? `, at most ${most}` : ''}.
			</p>{/if}
	{:else}
		<span class="soft small">Files can be added on Ask, not in a preview.</span>
	{/if}
	<div aria-live="polite">
		{#each troubles as trouble, i (i)}<p class="problem small">{trouble}</p>{/each}
		{#each notices as notice, i (i)}<p class="soft small">{notice}</p>{/each}
	</div>
</div>

<style>
	.files {
		border: 1px dashed var(--line-strong);
		padding: 0.6rem 0.75rem;
	}
	.files :global(.drop[data-dragging]) {
		background: var(--sound-wash);
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 0.75rem;
		padding-block: 0.1rem;
	}
	.hint {
		margin-left: 0.5rem;
	}
	.taken {
		margin: 0.3rem 0 0;
	}
</style>
