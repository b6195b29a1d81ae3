<!-- A time of day, typed on 24 hours whatever the browser is set to. What is none is said when it is left. -->
<script lang="ts">
	import { readTime } from '$lib/words';
	type Props = {
		/** HH:MM, or empty. */
		value: string;
		control?: Record<string, unknown>;
		/** The same; empty while what is typed is no time of day. */
		ontime: (value: string) => void;
	};
	let { value, control = {}, ontime }: Props = $props();
	const id = $props.id();
	/** As it is typed, until it is left and a time of day. */
	let typed = $state<string>();
	let left = $state(false);
	const wrong = $derived(left && Boolean(typed?.trim()) && !value);

	function type(text: string) {
		typed = text;
		left = false;
		ontime(readTime(text) ?? '');
	}
	function leave() {
		left = true;
		if (value) typed = undefined;
	}
</script>

<span>
	<input
		class="input"
		inputmode="numeric"
		autocomplete="off"
		placeholder="like 08:30"
		maxlength="5"
		value={typed ?? value}
		aria-invalid={wrong}
		aria-describedby={wrong ? `${id}-wrong` : undefined}
		{...control}
		oninput={(e) => type(e.currentTarget.value)}
		onchange={leave}
		onblur={leave}
	/>
	<span class="small problem" id="{id}-wrong" role="status"
		>{#if wrong}That is no time of day: write it like 08:30.{/if}</span
	>
</span>

<style>
	.input {
		width: 6.5rem;
	}
</style>
