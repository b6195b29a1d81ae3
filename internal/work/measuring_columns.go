package work

import (
	"context"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/store"
)

// columns are the facts of all requests in memory, kept current by what happens.
type columns struct {
	built    atomic.Pointer[measure.Columns] // nil before
	building sync.Mutex
	catching sync.Mutex
	done, of atomic.Int64 // requests, while they are made

	saved string    // mark of the last snapshot
	kept  time.Time // when one was kept last; only for who keeps the columns current

	mu      sync.Mutex
	changed map[int64]bool // numbers of the requests whose facts are to be read anew
}

// Preparing says that nothing can be measured yet, and how far that is.
type Preparing struct{ Done, Of int64 }

func (Preparing) Error() string { return "what there is to measure is being prepared" }

// in gives the columns that sums are of a currency in; nil where they are to be built.
func (c *columns) in(currency string) *measure.Columns {
	if built := c.built.Load(); built != nil && built.Currency == currency {
		return built
	}
	return nil
}

// touch notes that the facts of a request have changed.
func (c *columns) touch(number int64) {
	if number == 0 {
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.changed == nil {
		c.changed = map[int64]bool{}
	}
	c.changed[number] = true
}

// takeChanged gives the numbers of those that have changed since it was asked last.
func (c *columns) takeChanged() []int64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	numbers := make([]int64, 0, len(c.changed))
	for number := range c.changed {
		numbers = append(numbers, number)
	}
	clear(c.changed)
	return numbers
}

// How long somebody waits who asks while the columns are built, before they are told so.
const (
	shortWait = 20 * time.Millisecond
	longWait  = 2 * time.Second
)

// sliceOfFacts is how many requests are read at once while columns are built, and
// sliceOfMaking of how many the facts are made anew in one transaction: nobody waits for it.
const (
	sliceOfFacts  = 2000
	sliceOfMaking = 25
)

// view gives the columns as they are now; Preparing while somebody else builds them.
func (w *Measuring) view(ctx context.Context) (*measure.View, error) {
	for waited := time.Duration(0); w.columns.in(w.Organisation().Currency) == nil; waited += shortWait {
		if w.columns.building.TryLock() {
			if err := w.buildColumnsOnce(ctx); err != nil {
				return nil, err
			}
			continue
		}
		if rest(ctx, shortWait, nil); waited >= longWait || ctx.Err() != nil {
			return nil, Preparing{w.columns.done.Load(), w.columns.of.Load()}
		}
	}
	built := w.columns.in(w.Organisation().Currency)
	if built == nil { // it has just been changed
		return nil, Preparing{w.columns.done.Load(), w.columns.of.Load()}
	}
	if err := w.catchUpColumns(ctx, built); err != nil {
		return nil, err
	}
	return built.View(), nil
}

// stretchOfFacts is over how many numbers facts are read at once where many have changed.
const stretchOfFacts = 500

// catchUpColumns takes what has changed into the columns. Who asks meanwhile waits for it, so
// that nobody is told less than has happened.
func (w *Measuring) catchUpColumns(ctx context.Context, into *measure.Columns) error {
	w.columns.catching.Lock()
	defer w.columns.catching.Unlock()
	numbers := w.columns.takeChanged()
	slices.Sort(numbers)
	for len(numbers) > 0 {
		first, near := numbers[0], 1
		for near < len(numbers) && numbers[near] < first+stretchOfFacts {
			near++
		}
		limit := near
		if near > 1 {
			limit = stretchOfFacts
		}
		facts, err := w.Store.FactsBetween(ctx, first, numbers[near-1], limit)
		if err != nil {
			for _, left := range numbers {
				w.columns.touch(left)
			}
			return err
		}
		into.Put(facts...)
		numbers = numbers[near:]
	}
	return nil
}

// buildColumnsOnce reads the snapshot, or all facts, into memory, unless that is done. Facts
// that an older program has made are served until they are made anew; where some are missing
// they are made first. The lock of building must be held; it is given back.
func (w *Measuring) buildColumnsOnce(ctx context.Context) error {
	defer w.columns.building.Unlock()
	if w.columns.in(w.Organisation().Currency) != nil {
		return nil
	}
	count, err := w.Store.CountSent(ctx, 0)
	if err != nil {
		return err
	}
	w.columns.of.Store(int64(count))
	there, err := w.Store.CountMeasured(ctx)
	if err != nil {
		return err
	}
	if there < count {
		if err := w.remakeFacts(ctx); err != nil {
			return err
		}
	}
	if from := w.columns.fromSnapshot(ctx, w.kernel); from != nil {
		w.columns.built.Store(from)
		return nil
	}
	w.columns.done.Store(0)
	into := measure.NewColumns(w.Organisation().Currency)
	for after := int64(0); ; {
		facts, err := w.Store.Facts(ctx, after, sliceOfFacts)
		if err != nil {
			return err
		}
		if len(facts) == 0 {
			break
		}
		into.Put(facts...)
		after = facts[len(facts)-1].Request.Number
		w.columns.done.Add(int64(len(facts)))
	}
	w.columns.built.Store(into)
	return nil
}

// remakeFacts makes all facts anew unless those there are have the form of this program. It
// goes on where it was interrupted, and the old ones are there until the new ones are.
func (w *Measuring) remakeFacts(ctx context.Context) error {
	made, err := w.Store.FactsMade(ctx)
	if err != nil || made.Done(measure.Form) {
		return err
	}
	if err := w.Store.DropSnapshot(); err != nil {
		return err
	}
	if made.Form != measure.Form {
		made = store.FactsMade{Form: measure.Form}
	}
	for made.Upto >= 0 {
		err := w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
			some, err := tx.SentAfter(ctx, made.Upto, sliceOfMaking)
			if err != nil {
				return err
			}
			for _, s := range some {
				var facts measure.Facts
				err := w.caught("facts", s.ID, func() error {
					events, err := tx.Events(ctx, s.ID)
					facts, _ = measure.Of(events)
					return err
				})
				if err != nil {
					w.Log.Error("a request cannot be measured", "request", s.ID, "error", err)
				} else if err := tx.ReplaceFacts(facts); err != nil {
					return err
				}
				made.Upto = s.Number
				tx.Then(func() { w.columns.touch(s.Number) })
			}
			if len(some) < sliceOfMaking {
				made.Upto = -1
			}
			w.columns.done.Add(int64(len(some)))
			return tx.SetFactsMade(made)
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// RemakeFacts makes all facts anew from the events.
func (w *Measuring) RemakeFacts(ctx context.Context) error {
	if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetFactsMade(store.FactsMade{}) }); err != nil {
		return err
	}
	return w.remakeFacts(ctx)
}
