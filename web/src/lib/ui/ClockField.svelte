<!-- A time of day, typed on 24 hours whatever the browser is set to. -->
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
	/** As it is typed, until it is left. */
	let text = $state<string>();
</script>

<input
	class="input clock"
	inputmode="numeric"
	autocomplete="off"
	placeholder="like 08:30"
	maxlength="5"
	value={text ?? value}
	aria-invalid={Boolean(text?.trim()) && !value}
	{...control}
	oninput={(e) => {
		text = e.currentTarget.value;
		ontime(readTime(text) ?? '');
	}}
	onblur={() => value && (text = undefined)}
/>

<style>
	.clock {
		width: 6.5rem;
	}
</style>
