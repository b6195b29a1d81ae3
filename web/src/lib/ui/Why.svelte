<!-- A small "why" beside an automatic fact; it opens the reason. -->
<script lang="ts">
	let { reason, of }: { reason: string; of: string } = $props();
</script>

<details>
	<summary><span class="sr-only">{of}: </span>why</summary>
	<p>{reason}</p>
</details>

<style>
	details {
		display: inline-block;
		vertical-align: top;
		font-size: 0.8125rem;
	}
	summary {
		list-style: none;
		color: var(--sound);
		text-decoration: underline dotted;
		text-underline-offset: 3px;
	}
	summary::-webkit-details-marker {
		display: none;
	}
	p {
		color: var(--ink-soft);
		max-width: 40ch;
	}
	details[open] {
		display: block;
	}
</style>
