<script lang="ts">
	import { proof } from '$lib/ui/proof.svelte';
	import { pointed } from '$lib/ui/tip.svelte';
	import { told } from '$lib/ui/told.svelte';
	import '../app.css';
	import { untrack } from 'svelte';
	import { afterNavigate, beforeNavigate, goto } from '$app/navigation';
	import { navigating, page } from '$app/state';
	import Strip from '$lib/ui/Strip.svelte';
	import TrialLine from '$lib/ui/TrialLine.svelte';
	import { deskNames } from '$lib/words';
	import { listen } from '$lib/live';

	let { data, children } = $props();

	const order = ['ask', 'follow', 'decide', 'deliver', 'design', 'measure', 'manage'];
	const person = $derived(data.session.person);
	const me = $derived(person?.id);
	let search = $state<HTMLInputElement>();
	let keys = $state(false);
	/** Where there is little room, desks and person stand in a menu. */
	let menu = $state(false);
	/** Nobody has gone anywhere yet: an address was opened, and perhaps led on to its first entry. */
	let opened = true;
	beforeNavigate(({ type }) => {
		if (type !== 'goto') opened = false;
	});
	// the new sheet is where the person expects to be
	afterNavigate(({ from, to, type }) => {
		menu = false;
		opened &&= type === 'enter' || Boolean(page.state.led);
		if (opened) return;
		if (type === 'enter' || !from || !to || from.url.pathname === to.url.pathname) return;
		if (document.activeElement?.matches('[autofocus], [role=dialog] *')) return;
		const heading = document.querySelector<HTMLElement>('#sheet h1');
		if (!heading || heading.closest('label')) return;
		heading.tabIndex = -1;
		heading.focus({ preventScroll: true });
	});

	$effect(() => {
		if (me) return listen(untrack(() => data.session.event));
	});

	// how the organisation looks
	$effect(() => {
		const root = document.documentElement.style;
		const inks = Object.entries(data.session.look.accent ?? {});
		for (const [ink, colour] of inks) root.setProperty(`--accent-${ink}`, colour);
		return () => inks.forEach(([ink]) => root.removeProperty(`--accent-${ink}`));
	});
	// who still has to set a second factor does nothing else before
	$effect(() => {
		if (data.session.bound && page.route.id !== '/me') void goto('/me');
	});

	function pressed(e: KeyboardEvent) {
		const inField = e.target instanceof Element && e.target.closest('input, textarea, select, [role=dialog]');
		if (!person || inField || e.ctrlKey || e.metaKey || e.altKey) return;
		const digit = /^Digit([1-7])$/.exec(e.code)?.[1];
		const desk = digit ? order[Number(digit) - 1] : undefined;
		if (e.shiftKey && desk && data.session.desks.some((d) => d.key === desk)) {
			e.preventDefault();
			void goto(`/${desk}`);
		} else if (e.key === '/') {
			e.preventDefault();
			(document.querySelector<HTMLInputElement>('#wish') ?? search)?.focus();
		} else if (e.key === 'Escape') {
			menu = false;
		} else if (e.key === '?') {
			keys = true;
		}
	}
</script>

<svelte:window onkeydown={pressed} />

{#if person && data.session.still}
	<p class="still" role="alert">
		What should go on by itself stands still: tasks of other systems, reminders and mails wait. Nothing is
		lost.
		{#if data.session.desks.some((d) => d.key === 'manage')}<a href="/manage">See why</a>{:else}An
			administrator can see why.{/if}
	</p>
{/if}
{#if person && !page.route.id?.startsWith('/wall')}
	<Strip session={data.session} {person} bind:menu bind:search onkeys={() => (keys = true)} />
	{#if keys}
		{#await import('$lib/ui/Keys.svelte') then { default: Keys }}
			<Keys
				bind:open={keys}
				desks={data.session.desks.map((d) => ({ key: order.indexOf(d.key) + 1, name: deskNames[d.key] }))}
			/>
		{/await}
	{/if}
{/if}
{#if data.session.trial}<TrialLine trial={data.session.trial} {person} />{/if}
{#if pointed.at}
	{#await import('$lib/ui/Tip.svelte') then { default: Tip }}<Tip />{/await}
{/if}
{#if proof.asked}
	{#await import('$lib/ui/Proof.svelte') then { default: Proof }}<Proof />{/await}
{/if}
{#if told.any}
	{#await import('$lib/ui/Told.svelte') then { default: Told }}<Told />{/await}
{/if}
<div class="underway" class:on={navigating.to} aria-hidden="true"></div>
{@render children()}

<style>
	.still {
		padding: 0.5rem 1rem;
		background: var(--buoy-text);
		color: var(--panel);
	}
	.still a {
		color: inherit;
	}
	.underway {
		position: fixed;
		inset: 0 100% auto 0;
		height: 2px;
		background: var(--buoy);
		z-index: 8;
	}
	.underway.on {
		right: 20%;
		transition: right 150ms;
	}
</style>
