package work

import "context"

// runColumns builds the columns that are measured, beside all else.
func (w *Measuring) runColumns(ctx context.Context) {
	if err := w.caught("columns", "", func() error { return w.prepareColumns(ctx) }); err != nil && ctx.Err() == nil {
		w.Log.Error("what is measured cannot be read", "error", err)
	}
}
