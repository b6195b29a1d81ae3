<!-- A person's name, with what says more of them: their title, their place, or both. -->
<script lang="ts">
	type Props = {
		name: string;
		note?: string;
		/** The note stands on lines of its own. */
		lines?: boolean;
	};
	let { name, note, lines = false }: Props = $props();
</script>

<strong class:block={lines}>{name}</strong>{#if note}<span class="soft small" class:block={lines}
		>{` ${note}`}</span
	>{/if}

<style>
	.block {
		display: block;
	}
</style>
