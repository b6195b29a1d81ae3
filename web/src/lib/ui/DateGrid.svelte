<!-- The button that opens a month to choose a day from. Keys and the grid are Skeleton's. -->
<script lang="ts">
	import { CalendarDays, ChevronLeft, ChevronRight } from '@lucide/svelte';
	import { DatePicker, parseDate } from '@skeletonlabs/skeleton-svelte';
	import { locale } from '$lib/words';
	type Props = {
		/** YYYY-MM-DD, or empty. */
		value: string;
		min?: string;
		max?: string;
		label: string;
		onday: (day: string) => void;
	};
	let { value, min, max, label, onday }: Props = $props();
	const on = (day: string | undefined) => (day ? parseDate(day) : undefined);
	const chosen = $derived(on(value));
</script>

<DatePicker
	{locale}
	timeZone="UTC"
	startOfWeek={1}
	defaultOpen
	value={chosen ? [chosen] : []}
	min={on(min)}
	max={on(max)}
	onValueChange={(now) => {
		const day = now.value[0]?.toString();
		if (day && day !== value) onday(day);
	}}
>
	<DatePicker.Control>
		<DatePicker.Trigger class="btn plain date-open" aria-label="{label}: choose a day"
			><CalendarDays size={18} aria-hidden="true" /></DatePicker.Trigger
		>
	</DatePicker.Control>
	<DatePicker.Positioner class="date-place">
		<DatePicker.Content class="date-sheet">
			<DatePicker.View view="day">
				<DatePicker.Context>
					{#snippet children(picker)}
						<DatePicker.ViewControl class="date-month">
							<DatePicker.PrevTrigger class="btn quiet" aria-label="The month before"
								><ChevronLeft size={18} aria-hidden="true" /></DatePicker.PrevTrigger
							>
							<DatePicker.MonthSelect class="select" aria-label="Month" />
							<DatePicker.YearSelect class="select" aria-label="Year" />
							<DatePicker.NextTrigger class="btn quiet" aria-label="The month after"
								><ChevronRight size={18} aria-hidden="true" /></DatePicker.NextTrigger
							>
						</DatePicker.ViewControl>
						<DatePicker.Table>
							<DatePicker.TableHead>
								<DatePicker.TableRow>
									{#each picker().weekDays as weekday, i (i)}
										<DatePicker.TableHeader class="date-head" aria-label={weekday.long}
											>{weekday.short.slice(0, 2)}</DatePicker.TableHeader
										>
									{/each}
								</DatePicker.TableRow>
							</DatePicker.TableHead>
							<DatePicker.TableBody>
								{#each picker().weeks as week, i (i)}
									<DatePicker.TableRow>
										{#each week as day (day.toString())}
											<DatePicker.TableCell value={day}>
												<DatePicker.TableCellTrigger class="date-day">{day.day}</DatePicker.TableCellTrigger>
											</DatePicker.TableCell>
										{/each}
									</DatePicker.TableRow>
								{/each}
							</DatePicker.TableBody>
						</DatePicker.Table>
					{/snippet}
				</DatePicker.Context>
			</DatePicker.View>
		</DatePicker.Content>
	</DatePicker.Positioner>
</DatePicker>
