package work

import (
	"context"
	"errors"
	"io"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/store"
)

// Columns are kept in a file beside the data, so that a start need not read all facts.
const (
	snapshotEvery = time.Hour
	// snapshotAfter is how long it takes at most until what was kept is in the columns: a
	// snapshot is marked with what had happened so long before.
	snapshotAfter = 5 * time.Second
)

// fromSnapshot reads the columns of the last snapshot, with all that has happened since still
// to be taken in; nil in any doubt.
func (c *columns) fromSnapshot(ctx context.Context, k *kernel) *measure.Columns {
	var read *measure.Columns
	var mark string
	err := k.Store.ReadSnapshot(func(file io.Reader) (err error) {
		read, mark, err = measure.ReadSnapshot(file, k.Organisation().Currency)
		return err
	})
	if err == nil {
		var numbers []int64
		if numbers, err = k.Store.ChangedSince(ctx, mark); err == nil {
			for _, number := range numbers {
				c.touch(number)
			}
			c.saved = mark
			return read
		}
	}
	if !errors.Is(err, store.ErrNotFound) {
		k.Log.Info("what is measured is read anew", "reason", err)
	}
	return nil
}

// keepSnapshot keeps the columns once an hour, where anything has happened.
func (c *columns) keepSnapshot(ctx context.Context, k *kernel, view func(context.Context) (*measure.View, error)) error {
	if time.Since(c.kept) < snapshotEvery {
		return nil
	}
	c.kept = time.Now() // also where it fails
	mark, err := k.Store.Mark(ctx)
	if err != nil || mark == c.saved {
		return err
	}
	if rest(ctx, snapshotAfter, nil); ctx.Err() != nil {
		return nil
	}
	v, err := view(ctx)
	if err != nil {
		return err
	}
	if err := k.Store.SaveSnapshot(func(file io.Writer) error { return v.WriteSnapshot(file, mark) }); err != nil {
		return err
	}
	c.saved = mark
	return nil
}
