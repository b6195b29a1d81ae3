/** What fields of the items side give: nothing for an empty one. */

export const whole = (e: Event) => {
	const n = Math.trunc((e.currentTarget as HTMLInputElement).valueAsNumber);
	return n > 0 ? n : undefined;
};
export const text = (e: Event) => (e.currentTarget as HTMLInputElement).value || undefined;
export const keysOf = (list: { key: string }[]) => list.map((e) => e.key);
