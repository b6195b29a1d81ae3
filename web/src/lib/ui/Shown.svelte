<!-- Something kept apart, shown on asking and for a minute; that it was read is kept. -->
<script lang="ts">
	import { onDestroy } from 'svelte';
	import { Act } from './act.svelte';
	import Trouble from './Trouble.svelte';
	/** code: it is typed off, letter by letter. */
	type Props = { name: string; read: () => Promise<{ text: string }>; code?: boolean };
	let { name, read, code = false }: Props = $props();
	const act = new Act();
	let text = $state<string | undefined>();
	let hiding: ReturnType<typeof setTimeout> | undefined;
	const shownFor = 60_000;

	async function show() {
		const got = await act.run(read);
		if (!got) return;
		text = got.text;
		clearTimeout(hiding);
		hiding = setTimeout(hide, shownFor);
	}
	function hide() {
		text = undefined;
	}
	onDestroy(() => clearTimeout(hiding));
</script>

{#if text === undefined}
	<button class="btn quiet small" onclick={show} disabled={act.running} data-do="show"
		>Show<span class="sr-only">&nbsp;{name}</span></button
	>
{:else}
	<strong class:mono={code} data-shown role="status">{text}</strong>
	<button class="btn quiet small" onclick={hide}>Hide</button>
{/if}
<Trouble problem={act.problem} />
