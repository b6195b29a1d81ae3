<!-- What hangs on a service or an area: what moves, is renamed or ends with it. -->
<script lang="ts">
	import { untrack } from 'svelte';
	import { api, type Schema } from '$lib/api/client';

	type Props = { service?: string; area?: string; onread?: (hanging: Schema['HangingBody']) => void };
	let { service, area, onread }: Props = $props();
	let hanging = $state.raw<Schema['HangingBody'] | undefined>();
	untrack(() => void read());
	async function read() {
		const { data } = await api.GET('/api/hanging', { params: { query: { service, area } } });
		hanging = data;
		if (data) onread?.(data);
	}
	const named = (all: { name: string }[]) => all.map((o) => o.name).join(', ');
	const offered = $derived(hanging?.offerings.filter((o) => !o.draft && !o.ended) ?? []);
	const drafts = $derived(hanging?.offerings.filter((o) => o.draft) ?? []);
	const bare = $derived(
		hanging && !hanging.services.length && !hanging.offers && !hanging.underWay && !hanging.grants
	);
</script>

{#if hanging}
	<section class="hanging" data-hanging={hanging.offers}>
		<p class="fact">What hangs on it</p>
		{#if bare}<p class="soft">Nothing yet.</p>{/if}
		<ul>
			{#if hanging.services.length}<li>
					<strong>{hanging.services.length}</strong>
					{hanging.services.length === 1 ? 'service' : 'services'}: {named(hanging.services)}
				</li>{/if}
			{#if offered.length}<li>
					<strong>{offered.length}</strong>
					{offered.length === 1 ? 'offering' : 'offerings'} people can ask for: {named(offered)}. Ended or
					only intended, nobody finds {offered.length === 1 ? 'it' : 'them'} any more.
				</li>{/if}
			{#if drafts.length}<li>
					<strong>{drafts.length}</strong>
					{drafts.length === 1 ? 'draft' : 'drafts'}: {named(drafts)}
				</li>{/if}
			{#if hanging.underWay}<li>
					<strong>{hanging.underWay}</strong>
					{hanging.underWay === 1 ? 'request is' : 'requests are'} under way, and {hanging.underWay === 1
						? 'goes'
						: 'go'} on to the end.
				</li>{/if}
			{#if hanging.grants}<li>
					<strong>{hanging.grants}</strong>
					{hanging.grants === 1 ? 'action' : 'actions'} of other systems may be used by it.
				</li>{/if}
		</ul>
	</section>
{/if}

<style>
	.hanging {
		border-left: 3px solid var(--line-strong);
		padding-left: 0.8rem;
		font-size: 0.875rem;
	}
	li {
		padding-block: 0.1rem;
	}
</style>
