package work

import (
	"context"
	"errors"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// catchUpEvery is how often what has happened is taken into the columns, so that who asks
// need not wait for it.
const catchUpEvery = time.Second

// runColumns builds the columns that are measured, and keeps them current, beside all else.
func (w *Measuring) runColumns(ctx context.Context) {
	for ; ctx.Err() == nil; rest(ctx, catchUpEvery, nil) {
		err := w.caught("columns", "", func() error {
			if _, err := w.view(ctx); err != nil {
				return err
			}
			if err := w.remakeFacts(ctx); err != nil { // of an older program
				return err
			}
			return w.columns.keepSnapshot(ctx, w.kernel, w.view)
		})
		if preparing := (Preparing{}); err != nil && ctx.Err() == nil && !errors.As(err, &preparing) {
			w.Log.Error("what is measured cannot be read", "error", err)
		}
	}
}

// KeepPast keeps requests that have ended, with all that was measured of them, in one
// transaction.
func (w *Measuring) KeepPast(ctx context.Context, each func(keep func(request.State, []request.Event, measure.Made) error) error) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		return each(func(s request.State, events []request.Event, made measure.Made) error {
			tx.Then(func() { w.columns.touch(made.Number) })
			return errors.Join(tx.SavePast(s, events), tx.SaveFacts(made))
		})
	})
}
