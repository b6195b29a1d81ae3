import { goto } from '$app/navigation';

/** Goes on to the first entry of a list, once it is there; what the list has read stays. */
export function leadOn(first: () => string | undefined): void {
	$effect(() => {
		const to = first();
		if (to) void goto(to, { replaceState: true, state: { led: true } });
	});
}
