<!-- A limit of a date question: a day, or so many days from the day it is asked. -->
<script lang="ts">
	import DateField from '$lib/ui/DateField.svelte';
	import Field from '$lib/ui/Field.svelte';
	type Props = { label: string; field: string; value: string | undefined; onlimit: (value: string) => void };
	let { label, field, value, onlimit }: Props = $props();

	type Way = '' | 'today' | 'later' | 'earlier' | 'day';
	const days = $derived(/^today ?([+-]) ?(\d+)$/.exec(value ?? ''));
	const way = $derived<Way>(
		!value ? '' : value === 'today' ? 'today' : days ? (days[1] === '+' ? 'later' : 'earlier') : 'day'
	);
	function choose(next: Way) {
		const number = days?.[2] ?? '5';
		const day = new Date().toISOString().slice(0, 10);
		onlimit({ '': '', today: 'today', later: `today+${number}`, earlier: `today-${number}`, day }[next]);
	}
</script>

<Field {label}>
	<span class="limit">
		<select
			class="select"
			value={way}
			onchange={(e) => choose(e.currentTarget.value as Way)}
			data-field={field}
		>
			<option value="">no limit</option>
			<option value="today">today</option>
			<option value="later">days from today</option>
			<option value="earlier">days before today</option>
			<option value="day">a day</option>
		</select>
		{#if days}
			<input
				class="input days"
				type="number"
				min="0"
				max="9999"
				aria-label="{label}: days"
				value={days[2]}
				oninput={(e) =>
					e.currentTarget.value && onlimit(`today${days[1]}${Math.trunc(e.currentTarget.valueAsNumber)}`)}
				data-field="{field}-days"
			/>
		{:else if way === 'day'}
			<DateField
				value={value ?? ''}
				label="{label}: day"
				control={{ 'data-field': `${field}-day` }}
				onday={(day) => day && onlimit(day)}
			/>
		{/if}
	</span>
</Field>

<style>
	.limit {
		display: flex;
		gap: 0.4rem;
	}
	.days {
		width: 5rem;
	}
</style>
