<!-- Adds a file to a request that was sent, with the task it is about, if any. -->
<script lang="ts">
	import { api, unwrap } from '$lib/api/client';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';
	/** to: who may open it; those who have it in hand when left out. */
	let { request, task, to }: { request: string; task?: string; to?: 'request' | 'task' | 'staff' } = $props();
	const act = new Act();
	let renamed = $state('');

	async function send(file: File | undefined) {
		if (!file) return;
		const kept = await act.run(() =>
			unwrap(
				api.POST('/api/requests/{request}/added', {
					params: { path: { request }, query: { name: file.name, task, to } },
					body: file as unknown as string,
					bodySerializer: (b) => b as unknown as BodyInit
				})
			)
		);
		renamed =
			kept && kept.name !== file.name ? `${file.name} is kept as ${kept.name}, as its content is.` : '';
	}
</script>

<label class="btn quiet small"
	>{act.running ? 'Sending …' : 'Add a file'}<input
		type="file"
		class="sr-only"
		onchange={(e) => send(e.currentTarget.files?.[0])}
		data-field="file"
	/></label
>
{#if renamed}<p class="small soft" role="status">{renamed}</p>{/if}
<Trouble problem={act.problem} />
