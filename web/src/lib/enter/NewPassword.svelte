<!-- A new password: twice the same is not asked for, it can be looked at instead. -->
<script lang="ts">
	import Field from '$lib/ui/Field.svelte';

	let {
		value = $bindable(),
		problem,
		login = ''
	}: { value: string; problem?: string; login?: string } = $props();
	let seen = $state(false);
	const long = $derived([...value.trim()].length);
</script>

<input class="sr-only" autocomplete="username" value={login} readonly tabindex="-1" aria-hidden="true" />
<Field
	label="New password"
	hint={long > 0 && long < 12
		? `${12 - long} more letters`
		: 'At least 12 letters. Several words are good; nothing else is asked for.'}
	{problem}
>
	<input
		class="input"
		type={seen ? 'text' : 'password'}
		bind:value
		autocomplete="new-password"
		spellcheck="false"
		required
		aria-invalid={problem ? true : undefined}
		data-field="new"
	/>
</Field>
<label class="tick"><input type="checkbox" class="checkbox" bind:checked={seen} /> Show it</label>

<style>
	.tick {
		display: flex;
		gap: 0.5rem;
		align-items: center;
	}
</style>
