/** The seven edges of a heptagon in a box of 100 by 100, from the top clockwise, as SVG paths. */
export function edges(gap: number): string[] {
	const corner = (k: number) => {
		const angle = ((k * 360) / 7 - 90) * (Math.PI / 180);
		return [50 + 40 * Math.cos(angle), 50 + 40 * Math.sin(angle)] as const;
	};
	return Array.from({ length: 7 }, (_, k) => {
		const [x1, y1] = corner(k);
		const [x2, y2] = corner(k + 1);
		const [dx, dy] = [(x2 - x1) * gap, (y2 - y1) * gap];
		return `M${x1 + dx} ${y1 + dy}L${x2 - dx} ${y2 - dy}`;
	});
}
