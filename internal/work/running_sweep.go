package work

import (
	"context"
	"time"
)

// orphanAge is how old a file must be that nothing names before it is removed:
// longer than any upload takes.
const orphanAge = time.Hour

// sweep removes the files that a sudden end of the program left behind.
func (w *Running) sweep(ctx context.Context) error {
	orphans, err := w.Store.Orphans(ctx, w.Clock().Add(-orphanAge))
	for _, id := range orphans {
		if err := w.Store.ForgetContent(id); err != nil {
			w.Log.Error("a file that nothing names stays", "file", id, "error", err)
		}
	}
	return err
}

// sheetAge is how long a sheet is kept that nobody has done or thrown away.
const sheetAge = 7 * 24 * time.Hour

// sweepSheets throws sheets away that are old, done or not.
func (w *Running) sweepSheets(ctx context.Context) error {
	old, err := w.Store.SheetsBefore(ctx, w.Clock().Add(-sheetAge))
	for _, id := range old {
		if err := w.Store.DropSheet(ctx, id); err != nil {
			return err
		}
	}
	return err
}

// forgetSecrets takes away the secrets whose time is over.
func (w *Running) forgetSecrets(ctx context.Context) error {
	return w.Store.ForgetSecrets(ctx, w.Clock())
}
