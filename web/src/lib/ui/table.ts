/** A heading, and what its rows are ordered by; without that they are not. */
export type Column<Row> = {
	key: string;
	name: string;
	by?: (row: Row) => string | number | undefined;
	/** The name is only heard. */
	quiet?: boolean;
};

type View = {
	by: { key: string; down: boolean } | undefined;
	/** The page, from 1. */
	at: number;
	size: number;
	/** Orders words as people expect it. */
	compare: (a: string, b: string) => number;
};

/** The rows of one page in their order. Rows that are alike stay as they came;
 * a page that is no longer there becomes the last. */
export function tabled<Row>(rows: readonly Row[], columns: readonly Column<Row>[], view: View) {
	const of = columns.find((c) => c.key === view.by?.key)?.by;
	const ordered = of ? rows.toSorted((a, b) => order(of(a), of(b), view)) : rows;
	const pages = Math.max(1, Math.ceil(rows.length / view.size));
	const at = Math.min(view.at, pages);
	return { rows: ordered.slice((at - 1) * view.size, at * view.size), at, pages };
}

type Value = string | number | undefined;

function order(a: Value, b: Value, view: View): number {
	const numbers = typeof a === 'number' && typeof b === 'number';
	const up = numbers ? a - b : view.compare(String(a ?? ''), String(b ?? ''));
	return view.by?.down ? -up : up;
}
