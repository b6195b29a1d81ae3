<!-- How much working time is left until a task must begin, or end; below zero, what is missing. -->
<script lang="ts">
	import { slack } from '$lib/words';
	import { tip } from './tip.svelte';
	type Props = { minutes: number; taken: boolean };
	let { minutes, taken }: Props = $props();
</script>

<b
	class="slack"
	class:late={minutes < 0}
	{@attach tip(`Working time until it must ${taken ? 'end' : 'begin'}`)}
	data-slack>{slack(minutes)}</b
>

<style>
	.slack {
		font-weight: 400;
		white-space: nowrap;
	}
	.late {
		color: var(--buoy-text);
		font-weight: 600;
	}
</style>
