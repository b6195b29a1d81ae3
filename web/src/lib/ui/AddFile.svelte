<!-- Adds a file to a request that was sent, with the task it is about, if any. -->
<script lang="ts">
	import { api, asked } from '$lib/api/client';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';
	let { request, task }: { request: string; task?: string } = $props();
	const act = new Act();

	async function send(file: File | undefined) {
		if (!file) return;
		await act.run(() =>
			asked(
				api.POST('/api/requests/{request}/added', {
					params: { path: { request }, query: { name: file.name, task } },
					body: file as unknown as string,
					bodySerializer: (b) => b as unknown as BodyInit
				})
			)
		);
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
<Trouble problem={act.problem} />
