/** What was done, told at the edge of the screen, where it can be undone for a while. */

type Deed = () => unknown;

/** Whether anything was told, so that the place for it is there. */
export const told = $state({ any: false });

/** Tells that something is done; undo takes it back. */
export async function tell(title: string, undo?: Deed) {
	told.any = true;
	const { toaster } = await import('./toaster');
	toaster.create({
		title,
		duration: undo ? 15_000 : 6_000,
		action: undo ? { label: 'Undo', onClick: () => void undo() } : undefined
	});
}
