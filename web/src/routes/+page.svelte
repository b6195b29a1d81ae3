<!-- The door. -->
<script lang="ts">
	import { page } from '$app/state';
	import Choose from '$lib/enter/Choose.svelte';
	import Frame from '$lib/enter/Frame.svelte';
	import Password from '$lib/enter/Password.svelte';

	let { data } = $props();
</script>

<Frame look={data.session.look} title={data.door ? 'Who are you today?' : 'Sign in'}>
	{#snippet under()}
		{#if data.door}<p class="soft">
				{data.door.company} is made up. Everything you do stays on this computer.
			</p>{/if}
	{/snippet}
	{#if page.url.searchParams.has('back')}
		<p class="ended">
			You are not signed in, or not any more. Sign in, and you come back to where you were; what you typed is
			kept.
		</p>
	{/if}
	{#if data.session.enter?.trouble}<p class="ended" role="alert" data-trouble>
			{data.session.enter.trouble}
		</p>{/if}
	{#if data.door}<Choose entries={data.door.entries} />
	{:else if data.session.enter}<Password ways={data.session.enter} back={data.back} />{/if}
</Frame>

<style>
	.ended {
		border-left: 4px solid var(--brass);
		padding-left: 0.75rem;
		margin-block: 0.5rem;
	}
</style>
