<!-- A time: relative in text, exact when it is pointed at. -->
<script lang="ts">
	import { tip } from './tip.svelte';
	import { at, exact, relative } from '$lib/words';
	let { time, absolute = false }: { time: string; absolute?: boolean } = $props();
</script>

<time datetime={time} {@attach tip(exact(time))}>{absolute ? at(time) : relative(time)}</time>
