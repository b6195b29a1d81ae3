<!-- How far long work has come; without a share it only goes on. The bar is loaded with the first. -->
<script lang="ts">
	type Props = {
		label: string;
		/** From 0 to 1. */
		share?: number;
	};
	let props: Props = $props();
</script>

{#await import('./ProgressBar.svelte') then { default: Bar }}<Bar {...props} />{/await}
