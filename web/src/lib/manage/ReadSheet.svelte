<!-- Sends a spreadsheet to be looked through; nothing is changed by it. -->
<script lang="ts">
	import { goto } from '$app/navigation';
	import { api, unwrap } from '$lib/api/client';
	import { Act } from '$lib/ui/act.svelte';
	import Trouble from '$lib/ui/Trouble.svelte';
	import { kinds, type Kind } from './words';

	let { kind }: { kind: Kind } = $props();
	const act = new Act();

	async function send(input: HTMLInputElement) {
		const file = input.files?.[0];
		if (!file) return;
		const kept = await act.run(() =>
			unwrap(
				api.POST('/api/sheets', {
					params: { query: { kind, name: file.name } },
					body: file as unknown as string,
					bodySerializer: (b) => b as unknown as BodyInit
				})
			)
		);
		input.value = '';
		if (kept) await goto(`/manage/sheets/${kept.key}`);
	}
</script>

<span class="read">
	<label class="btn do"
		>{act.running ? 'Reading …' : 'Read a sheet'}<input
			type="file"
			class="sr-only"
			accept=".csv,.tsv,.txt,.xlsx"
			disabled={act.running}
			onchange={(e) => send(e.currentTarget)}
			data-field="sheet"
		/></label
	>
	<a class="small" href="/api/company/{kind}/template?as=xlsx" download="{kind}-template.xlsx"
		>Template for {kinds[kind].all.toLowerCase()}</a
	>
</span>
<Trouble problem={act.problem} />

<style>
	.read {
		display: inline-flex;
		gap: 0.6rem;
		align-items: center;
	}
	label:focus-within {
		outline: 2px solid var(--buoy);
		outline-offset: 2px;
	}
</style>
