<!-- The list of a menu. Keys and focus are Skeleton's. It opens as it comes. -->
<script lang="ts" module>
	export type Deed = { key: string; words: string; run: () => void };
</script>

<script lang="ts">
	import { Menu } from '@skeletonlabs/skeleton-svelte';
	import InMain from './InMain.svelte';
	type Props = { label: string; deeds: Deed[]; name: string };
	let { label, deeds, name }: Props = $props();
</script>

<Menu
	defaultOpen
	positioning={{ placement: 'bottom-end' }}
	onSelect={(chosen) => deeds.find((d) => d.key === chosen.value)?.run()}
>
	<Menu.Trigger class="btn quiet" data-menu={name}>{label}</Menu.Trigger>
	<InMain>
		<Menu.Positioner class="menu-place">
			<Menu.Content class="menu-list" aria-label={label}>
				{#each deeds as deed (deed.key)}
					<Menu.Item value={deed.key} class="menu-item" data-do={deed.key}>
						<Menu.ItemText>{deed.words}</Menu.ItemText>
					</Menu.Item>
				{/each}
			</Menu.Content>
		</Menu.Positioner>
	</InMain>
</Menu>

<style>
	:global(.menu-place) {
		z-index: 50 !important;
	}
	:global(.menu-list) {
		gap: 0;
		padding: 0.25rem 0;
		min-width: 11rem;
		border: 2px solid var(--ink);
		border-radius: 0;
		background: var(--panel);
		box-shadow: 0 4px 14px rgb(19 38 43 / 0.25);
	}
	:global(.menu-item) {
		padding: 0.4rem 0.8rem;
		border-radius: 0;
		cursor: pointer;
	}
	:global(.menu-item[data-highlighted]) {
		background: var(--sound-wash);
		color: var(--ink);
	}
</style>
