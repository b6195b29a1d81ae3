<!-- The strip above every screen: the mark, the desks, the search, and the person. -->
<script lang="ts">
	import { goto, invalidate } from '$app/navigation';
	import { page } from '$app/state';
	import { api, type Schema } from '$lib/api/client';
	import Menu from '$lib/ui/Menu.svelte';
	import { waits, type Waits } from '$lib/waits.svelte';
	import { deskNames } from '$lib/words';

	type Props = {
		session: Schema['SessionBody'];
		person: Schema['SignedPerson'];
		/** Where there is little room, desks and person stand in a menu. */
		menu: boolean;
		search: HTMLInputElement | undefined;
		onkeys: () => void;
	};
	let { session, person, menu = $bindable(), search = $bindable(), onkeys }: Props = $props();
	const here = $derived(page.url.pathname.split('/')[1] ?? '');
	let words = $state('');
	const desks = $derived(
		session.desks.map((d) => ({ ...d, waiting: waits.now?.[d.key as keyof Waits] ?? d.waiting }))
	);
	$effect(() => {
		// the first decision brings a desk of its own
		if (waits.now?.decide && !session.desks.some((d) => d.key === 'decide'))
			void invalidate((url) => url.pathname === '/api/session');
	});
	const unread = $derived(waits.now?.unread ?? session.unread);
	const waiting = $derived(desks.reduce((n, d) => n + d.waiting, 0) + unread);
	async function leave() {
		const { data } = await api.DELETE('/api/session');
		location.assign(data?.away ?? '/'); // a new page: nothing of one person stays for the next
	}
</script>

<a class="skip" href="#sheet">To the sheet</a>
<header class="strip">
	<a class="home" href="/ask" aria-label="Heptad">
		{#if session.look.emblem}<img src={session.look.emblem} alt="" width="24" height="24" />{:else}
			<svg viewBox="0 0 32 32" width="22" height="22" aria-hidden="true">
				<path d="M16 3.2 26.2 8.1 28.7 19.1 21.6 27.9H10.4L3.3 19.1 5.8 8.1Z" />
			</svg>
		{/if}
		Heptad
	</a>
	<button
		class="btn plain menu"
		aria-expanded={menu}
		aria-controls="strip-menu"
		onclick={() => (menu = !menu)}
		data-do="menu"
		>{deskNames[here as keyof typeof deskNames] ?? 'Menu'}{#if waiting > 0}<span class="count"
				><span class="sr-only">, waiting: </span>{waiting}</span
			>{/if}</button
	>
	<nav id="strip-menu" class:open={menu} aria-label="Desks">
		{#each desks as desk (desk.key)}
			<a href="/{desk.key}" aria-current={here === desk.key ? 'page' : undefined} data-desk={desk.key}>
				{deskNames[desk.key]}{#if desk.waiting > 0}<span class="count"
						><span class="sr-only">, waiting: </span>{desk.waiting}</span
					>{/if}
			</a>
		{/each}
	</nav>
	{#if page.url.pathname !== '/ask'}
		<form
			action="/ask"
			onsubmit={(e) => {
				e.preventDefault();
				void goto(`/ask?words=${encodeURIComponent(words.trim())}`);
				words = '';
			}}
		>
			<input
				bind:this={search}
				bind:value={words}
				class="input"
				name="words"
				aria-label="What do you need? Press slash to come here"
				placeholder="What do you need?   /"
			/>
		</form>
	{/if}
	<div class="person" class:open={menu}>
		<a
			class="messages"
			href="/messages"
			aria-current={here === 'messages' ? 'page' : undefined}
			data-unread={unread}
			>Messages{#if unread > 0}<span class="count"
					><span class="sr-only">, new: </span>{unread > 99 ? '99+' : unread}</span
				>{/if}</a
		>
		<span class="soft small title">{person.title}</span>
		<Menu
			name="person"
			label={person.name}
			deeds={[
				{ key: 'keys', words: 'Keys', run: onkeys },
				{ key: 'me', words: 'My profile', run: () => void goto('/me') },
				{ key: 'ways', words: 'How you are told', run: () => void goto('/messages#ways') },
				{ key: 'leave', words: 'Sign out', run: () => void leave() }
			]}
		/>
	</div>
</header>

<style>
	.strip {
		display: flex;
		align-items: center;
		gap: 1.5rem;
		height: 3rem;
		padding-inline: 1rem;
		border-bottom: 2px solid var(--ink);
		position: sticky;
		top: 0;
		z-index: 5;
		background: var(--paper);
	}
	.home {
		display: flex;
		gap: 0.5rem;
		align-items: center;
		font-family: var(--heading);
		font-weight: 700;
		font-size: 1.0625rem;
		color: var(--ink);
		text-decoration: none;
	}
	.home path {
		fill: none;
		stroke: var(--sound);
		stroke-width: 3.5;
		stroke-linejoin: round;
	}
	nav {
		display: flex;
		gap: 0.25rem;
		align-self: stretch;
	}
	nav a {
		display: flex;
		align-items: center;
		gap: 0.35rem;
		padding-inline: 0.7rem;
		color: var(--ink);
		text-decoration: none;
		border-bottom: 4px solid transparent;
		border-top: 4px solid transparent;
	}
	nav a:hover {
		border-bottom-color: var(--fog);
	}
	nav a[aria-current] {
		font-weight: 700;
		border-bottom-color: var(--sound);
	}
	.count {
		font: 600 0.8125rem var(--mono);
		color: var(--buoy-text);
		text-decoration: underline;
		text-decoration-thickness: 2px;
		text-underline-offset: 3px;
	}
	form {
		flex: 1;
		max-width: 22rem;
	}
	form .input {
		min-height: 1.9rem;
		padding-block: 0.15rem;
		font-size: 0.875rem;
		width: 100%;
	}
	.person {
		margin-left: auto;
		display: flex;
		gap: 0.6rem;
		align-items: center;
		white-space: nowrap;
		font-size: 0.875rem;
	}
	.messages {
		display: flex;
		gap: 0.35rem;
	}
	.title {
		margin-left: 0.4rem;
	}
	.person :global(.btn) {
		font-weight: 400;
		font-size: 0.875rem;
	}
	.skip {
		position: absolute;
		left: -999px;
	}
	.skip:focus {
		left: 1rem;
		top: 0.5rem;
		z-index: 9;
		background: var(--panel);
		padding: 0.25rem 0.5rem;
	}
	@media (max-width: 1000px) {
		.title {
			display: none;
		}
	}
	.menu {
		display: none;
	}
	/* One line: the mark, the search, and a menu with the rest. */
	@media (max-width: 900px) {
		.strip {
			display: grid;
			grid-template-columns: auto minmax(0, 1fr) auto;
			gap: 0.4rem 0.75rem;
			padding: 0.4rem 0.75rem;
			height: auto;
			min-height: 3rem;
		}
		.home {
			font-size: 0;
			gap: 0;
		}
		.menu {
			display: flex;
			gap: 0.35rem;
			grid-area: 1 / 3;
			padding: 0.35rem 0.7rem;
		}
		.menu::after {
			content: '▾' / '';
		}
		form {
			max-width: none;
			grid-area: 1 / 2;
		}
		nav,
		.person {
			display: none;
			grid-column: 1 / -1;
			flex-wrap: wrap;
			margin: 0;
		}
		nav.open,
		.person.open {
			display: flex;
		}
		.person.open {
			padding-bottom: 0.5rem;
			border-top: 1px solid var(--line);
		}
		nav a {
			padding: 0.45rem 0.7rem;
		}
	}
</style>
