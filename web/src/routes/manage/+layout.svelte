<!-- Manage: its places in the index. -->
<script lang="ts">
	import { page } from '$app/state';

	let { data, children } = $props();
	const administers = $derived(data.session.roles.includes('administrator'));
	const places = $derived(
		[
			{
				name: 'Beginning',
				places: data.session.moving ? [['/manage/move-in', 'Move in']] : []
			},
			{
				name: 'The company',
				places: [
					['/manage/organisation', 'Organisation'],
					['/manage/company/people', 'People'],
					['/manage/company/teams', 'Teams'],
					['/manage/company/locations', 'Locations'],
					['/manage/company/costCentres', 'Cost centres'],
					['/manage/company/areas', 'Areas'],
					['/manage/company/services', 'Services'],
					['/design/bundles', 'Bundles'],
					['/manage/company/offerings', 'Heads of offerings'],
					['/manage/company/belongings', 'Belongings']
				]
			},
			{
				name: 'Rights',
				places: [
					['/manage/roles', 'Roles'],
					['/manage/sign-in', 'Sign-in'],
					['/manage/audit', 'Audit']
				]
			},
			{
				name: 'The program',
				places: [
					['/manage/systems', 'Other systems'],
					['/manage/backups', 'Backups'],
					['/design/calendars', 'Working calendars'],
					['/design/texts', 'Texts of messages']
				]
			}
		]
			.map((g) => ({ ...g, places: g.places.filter(([path]) => administers || open.includes(path!)) }))
			.filter((g) => g.places.length)
	);
	/** What an auditor may enter, too. */
	const open = ['/manage/roles', '/manage/audit'];
	const here = (path: string) => page.url.pathname.startsWith(path);
</script>

<div class="manage">
	<nav aria-label="Places of Manage">
		{#each places as group (group.name)}
			<p class="fact">{group.name}</p>
			<ul>
				{#each group.places as [path, name] (path)}
					<li><a href={path} aria-current={here(path!) ? 'page' : undefined}>{name}</a></li>
				{/each}
			</ul>
		{/each}
	</nav>
	{@render children()}
</div>

<style>
	.manage {
		display: grid;
		grid-template-columns: 12.5rem minmax(0, 1fr);
		min-height: calc(100vh - 3rem);
	}
	nav {
		border-right: 1px solid var(--line);
		padding: 1rem 0;
		position: sticky;
		top: 3rem;
		max-height: calc(100vh - 3rem);
		overflow-y: auto;
	}
	nav p {
		padding-inline: 1rem;
	}
	nav a {
		display: block;
		padding: 0.3rem 1rem 0.3rem calc(1rem - 4px);
		color: var(--ink);
		border-left: 4px solid transparent;
	}
	nav a:hover {
		background: var(--sound-wash);
	}
	nav a[aria-current] {
		border-left-color: var(--sound);
		background: var(--panel);
		font-weight: 600;
	}
	.manage :global(main) {
		padding: 1.25rem 1.75rem 3rem;
		margin: 0;
		max-width: 76rem;
		width: 100%;
		outline: none;
	}
	@media (max-width: 900px) {
		.manage {
			grid-template-columns: minmax(0, 1fr);
			align-content: start;
		}
		nav {
			position: static;
			max-height: none;
			border: 0;
			border-bottom: 1px solid var(--line);
			padding: 0.5rem 0;
			display: flex;
			overflow-x: auto;
		}
		nav p {
			display: none;
		}
		nav ul {
			display: flex;
		}
		nav a {
			white-space: nowrap;
		}
		.manage :global(main) {
			padding: 1rem 1rem 2rem;
		}
	}
</style>
