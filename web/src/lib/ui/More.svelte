<!-- The rest of a list, a page at a time as one scrolls to it. -->
<script lang="ts">
	type Props = { more: () => Promise<void> };
	let { more }: Props = $props();
	let running = $state(false);

	async function go() {
		if (running) return;
		running = true;
		await more();
		running = false;
	}
	function seen(node: HTMLElement) {
		const watch = new IntersectionObserver((entries) => entries.some((e) => e.isIntersecting) && void go());
		watch.observe(node);
		return () => watch.disconnect();
	}
</script>

<button class="btn quiet" {@attach seen} onclick={go} disabled={running}
	>{running ? 'Loading …' : 'More'}</button
>
