<!-- A time: relative in text, exact on hover. -->
<script lang="ts">
	import { at, exact, relative } from '$lib/words';
	let { time, absolute = false }: { time: string; absolute?: boolean } = $props();
</script>

<time datetime={time} title={exact(time)}>{absolute ? at(time) : relative(time)}</time>
