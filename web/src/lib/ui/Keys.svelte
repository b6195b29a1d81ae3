<!-- The keys of this screen. -->
<script lang="ts">
	import Dialog from './Dialog.svelte';
	type Props = { open: boolean; desks: { key: number; name: string }[] };
	let { open = $bindable(), desks }: Props = $props();
</script>

<Dialog bind:open title="Keys">
	<dl>
		<div>
			<dt><kbd>/</kbd></dt>
			<dd>Say what you need</dd>
		</div>
		{#each desks as desk (desk.key)}
			<div>
				<dt><kbd>Shift</kbd> <kbd>{desk.key}</kbd></dt>
				<dd>{desk.name}</dd>
			</div>
		{/each}
		<div>
			<dt><kbd>↑</kbd> <kbd>↓</kbd></dt>
			<dd>Walk the index</dd>
		</div>
		<div>
			<dt><kbd>?</kbd></dt>
			<dd>These keys</dd>
		</div>
	</dl>
	<button class="btn plain" onclick={() => (open = false)}>Back</button>
</Dialog>

<style>
	dl {
		margin: 0.75rem 0 1rem;
	}
	div {
		display: grid;
		grid-template-columns: 7rem 1fr;
		padding-block: 0.2rem;
	}
	kbd {
		font-family: var(--mono);
		font-size: 0.8125rem;
		border: 1px solid var(--line-strong);
		padding: 0 0.3rem;
	}
</style>
