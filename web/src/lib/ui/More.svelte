<!-- The rest of a list, a page at a time as one scrolls to it. -->
<script lang="ts">
	type Props = { more: () => Promise<void> };
	let { more }: Props = $props();
	let running = $state(false);

	async function go() {
		if (running) return;
		running = true;
		try {
			await more();
		} finally {
			running = false;
		}
	}
	/** It goes on until it is out of sight. */
	function seen(node: HTMLElement) {
		const watch = new IntersectionObserver(async (entries) => {
			if (!entries.at(-1)?.isIntersecting) return;
			await go();
			watch.unobserve(node);
			watch.observe(node);
		});
		watch.observe(node);
		return () => watch.disconnect();
	}
</script>

<button class="btn quiet" {@attach seen} onclick={go} disabled={running}
	>{running ? 'Loading …' : 'More'}</button
>
